/** Run by the build: a mail slot's page as HTML for its script, in each language, and the style sheet of it all. */
import { LANGUAGES } from '@under-lock/core/language';
import { renderToStaticMarkup } from 'react-dom/server';
import { drawn } from './early-drawn';
import { type BuiltSlot } from './src/slot/built';
import { SlotPage } from './src/slot/SlotPage';
import { german } from './src/slot/words/de';
import { english } from './src/slot/words/en';
import { portuguese } from './src/slot/words/pt';

const catalogues = { en: english, de: german, pt: portuguese };

/** In every language: who has no scripts has no language known to us either. */
const WITHOUT_SCRIPTS = [
  [
    'en',
    'This page seals what you leave on your own device, which needs JavaScript. Please switch it on and load the page again, or ask the office for another way.',
  ],
  [
    'de',
    'Diese Seite verschließt auf Ihrem eigenen Gerät, was Sie hinterlassen, und braucht dafür JavaScript. Bitte schalten Sie es ein und laden Sie die Seite neu, oder fragen Sie nach einem anderen Weg.',
  ],
  [
    'pt',
    'Esta página fecha no seu dispositivo o que deixar, e para isso precisa de JavaScript. Ligue-o e carregue a página de novo, ou peça outro caminho.',
  ],
] as const;

export function makeSlot(): { slot: BuiltSlot; style: { id: string; css: string }; without: string } {
  const made = LANGUAGES.map((language) => {
    const words = catalogues[language];
    const page = drawn(() => <SlotPage words={words} />);
    return { language, words, page, html: renderToStaticMarkup(page.element) };
  });
  const { id, dangerouslySetInnerHTML } = made[0]!.page.getStyleElement().props;
  return {
    slot: Object.fromEntries(made.map(({ language, html, words }) => [language, { html, words }])) as BuiltSlot,
    style: { id, css: dangerouslySetInnerHTML.__html },
    without: renderToStaticMarkup(
      <>
        {WITHOUT_SCRIPTS.map(([lang, text]) => (
          <p key={lang} className="waiting" lang={lang}>
            {text}
          </p>
        ))}
      </>,
    ),
  };
}
