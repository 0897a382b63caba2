/** Run by the build: a mail slot's page as HTML for its script, in each language, and the style sheet of it all. */
import { directionOf, LANGUAGES } from '@under-lock/core/language';
import { renderToStaticMarkup } from 'react-dom/server';
import { drawn } from './early-drawn';
import { type BuiltSlot } from './src/slot/built';
import { SlotPage } from './src/slot/SlotPage';
import { catalogue as en } from './src/words/slot/en';
import { catalogue as de } from './src/words/slot/de';
import { catalogue as pt } from './src/words/slot/pt';
import { catalogue as fr } from './src/words/slot/fr';
import { catalogue as es } from './src/words/slot/es';
import { catalogue as it } from './src/words/slot/it';
import { catalogue as nl } from './src/words/slot/nl';
import { catalogue as pl } from './src/words/slot/pl';
import { catalogue as ar } from './src/words/slot/ar';

const catalogues = { en, de, pt, fr, es, it, nl, pl, ar };

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
  [
    'fr',
    'Cette page scelle sur votre appareil ce que vous déposez, et a besoin de JavaScript pour cela. Activez-le et rechargez la page, ou demandez un autre moyen.',
  ],
  [
    'es',
    'Esta página sella en su dispositivo lo que deje, y para eso necesita JavaScript. Actívelo y vuelva a cargar la página, o pida otra vía.',
  ],
  [
    'it',
    'Questa pagina sigilla sul Suo dispositivo ciò che lascia, e per questo ha bisogno di JavaScript. Lo attivi e ricarichi la pagina, o chieda un’altra via.',
  ],
  [
    'nl',
    'Deze pagina verzegelt op uw eigen apparaat wat u achterlaat, en heeft daarvoor JavaScript nodig. Zet het aan en laad de pagina opnieuw, of vraag om een andere weg.',
  ],
  [
    'pl',
    'Ta strona pieczętuje na Twoim urządzeniu to, co zostawiasz, i potrzebuje do tego JavaScriptu. Włącz go i wczytaj stronę ponownie albo poproś o inną drogę.',
  ],
  ['ar', 'تختم هذه الصفحة ما تتركه على جهازك، وتحتاج لذلك إلى JavaScript. فعّله وأعد تحميل الصفحة، أو اطلب طريقة أخرى.'],
] as const;

export function makeSlot(): { slot: BuiltSlot; style: { id: string; css: string }; without: string } {
  const made = LANGUAGES.map((language) => {
    const words = catalogues[language];
    const page = drawn(() => <SlotPage words={words} language={language} />);
    return { language, words, page, html: renderToStaticMarkup(page.element) };
  });
  const { id, dangerouslySetInnerHTML } = made[0]!.page.getStyleElement().props;
  return {
    slot: Object.fromEntries(made.map(({ language, html, words }) => [language, { html, words }])) as BuiltSlot,
    style: { id, css: dangerouslySetInnerHTML.__html },
    without: renderToStaticMarkup(
      <>
        {WITHOUT_SCRIPTS.map(([lang, text]) => (
          <p key={lang} className="waiting" lang={lang} dir={directionOf(lang)}>
            {text}
          </p>
        ))}
      </>,
    ),
  };
}
