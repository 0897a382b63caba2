/** The last three digits: enough for its owner to know the number, too little for anybody else. */
export const phoneHint = (e164: string): string => `··· ${e164.slice(-3)}`;
