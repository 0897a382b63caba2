/**
 * The last three digits: enough for its owner to know the number, too little for anybody else. Held together by a
 * no-break space.
 */
export const phoneHint = (e164: string): string => `···\u00a0${e164.slice(-3)}`;
