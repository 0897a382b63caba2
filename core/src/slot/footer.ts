/** What people put under their mails and on their pages, so that others find a mail slot. */
import { escapeHtml } from '../escape-html';

export interface SlotFooter {
  text: string;
  html: string;
}

/** The same words as text and as HTML that every mail program takes: one paragraph, one link, no style of its own. */
export function slotFooter(link: string, whose: 'mine' | 'ours'): SlotFooter {
  const lead = `To send ${whose === 'mine' ? 'me' : 'us'} something under lock:`;
  return {
    text: `${lead}\n${link}`,
    html: `<p>${lead} <a href="${escapeHtml(link)}">${escapeHtml(link)}</a></p>`,
  };
}
