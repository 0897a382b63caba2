/** Text as it stands between tags and inside quoted attributes. */
export const escapeHtml = (text: string): string =>
  text.replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`);
