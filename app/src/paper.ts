/** Which paper the worker's part of the world prints on. */
const LETTER = /-(?:US|CA|MX|PH|CL|CO|VE|CR|PA|GT|DO|PR)\b/i;

export const paperHere = (): 'a4' | 'letter' => (LETTER.test(navigator.language) ? 'letter' : 'a4');
