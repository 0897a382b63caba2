/** IANA time zone of whoever reads, as their browser has it. */
export const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
