/** What maker and reader of a carried page agree about. */

/** What the opened page says to the page that opened it. */
export const ASKS = 'under-lock/carried';
export const HELD_OPENS = '<script type="text/plain" id="held">';
export const HELD_CLOSES = '</script>\n';
export const LINK_OPENS = '<a id="open" href="';
