/** Somebody else's HTML in its frame, with what cleans it fetched only where there is some. */
import { later } from './later';

export const HtmlFrame = later(async () => (await import('./HtmlFrame')).HtmlFrame);
