/** What may be left in a mail slot at once. */
export const SLOT_BYTES = 20_000_000;
export const SLOT_FILES = 20;
export const SLOT_TEXT = 100_000;
export const SLOT_SUBJECT = 200;
export const SLOT_NAME = 100;
export const SLOT_PHONE = 30;
/** Colleagues behind one slot: for each of them the key is sealed, and the content kept. */
export const SLOT_PEOPLE = 20;

/** In base64, with what stands around files and text, and sealed. */
export const SLOT_SEALED_BYTES = 30 * 1_048_576;
