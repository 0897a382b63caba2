/** Run by the build: the asking page as HTML for the early script, from the components that the reading page has. */
import { momentInWords, distanceInWords } from '@under-lock/core/when';
import { LANGUAGES } from '@under-lock/core/language';
import { renderToStaticMarkup } from 'react-dom/server';
import { type ComponentType } from 'react';
import { drawn, type Drawn } from './early-drawn';
import { AskPage } from './src/AskPage';
import { type Asking } from './src/useAsking';
import { type Early, type EarlyWords, place, type Stage } from './src/early/built';
import { type Begun } from './src/early/handover';
import { Frame } from './src/Frame';
import { type AskDoor } from './src/visit';
import { catalogue as de } from './src/words/room/de';
import { catalogue as pt } from './src/words/room/pt';
import { catalogue as fr } from './src/words/room/fr';
import { catalogue as es } from './src/words/room/es';
import { catalogue as it } from './src/words/room/it';
import { catalogue as nl } from './src/words/room/nl';
import { catalogue as pl } from './src/words/room/pl';
import { catalogue as ar } from './src/words/room/ar';
import { language, speak, words } from './src/words/words';

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
const now = new Date();
const closesAt = new Date(now.getTime() + 9 * 24 * 60 * 60_000);
const RESEND_S = 60;

const never = (): Promise<never> => new Promise(() => undefined);
const door: AskDoor = {
  askPasscode: never,
  identify: never,
  readQuestion: never,
  askOtherWay: never,
  sayNotForMe: never,
};

const room = (stage: Stage): Asking => ({
  state: 'held',
  officeName: place('office'),
  colour: '#000000',
  senderName: place('sender'),
  senderAddress: place('address'),
  zone,
  closesAt,
  carried: false,
  identified: false,
  check: {
    kind: stage === 'question' ? 'question' : 'text',
    hint: place('hint'),
    ...(stage.startsWith('passcode') ? {} : { question: new Uint8Array(0) }),
  },
});

const sentNow = (): Begun => ({
  asking: false,
  resendAt: new Date(Date.now() + RESEND_S * 1000).toISOString(),
  typed: '',
  answer: '',
});

function drawnAt(stage: Stage): Drawn {
  const sent = stage.endsWith('-sent');
  const Page: ComponentType = () => (
    <Frame officeName={place('office')} colour="#000000">
      <AskPage
        room={room(stage)}
        door={door}
        now={now}
        again={false}
        takeBegun={() => (sent ? sentNow() : undefined)}
        onIdentified={() => undefined}
        onNotMine={() => undefined}
        onProblem={() => undefined}
      />
    </Frame>
  );
  return drawn(Page);
}

const escaped = (text: string): string => renderToStaticMarkup(<>{text}</>);

/** What differs from visit to visit gives way to a place. @throws Error when it is not there */
function withPlaces(html: string, stage: Stage): string {
  const hint = place('hint');
  const wait = words.sendAgainIn(RESEND_S);
  const between: [string, string, boolean][] = [
    [momentInWords(closesAt, now, zone, language), place('date'), true],
    [distanceInWords(closesAt, now, zone, language), place('distance'), true],
    [words.byText(hint), place('asked'), stage === 'passcode' || stage === 'both'],
    [words.passcodeSentByText(hint), place('sent'), stage.endsWith('-sent')],
    [words.sendPasscode, place('send'), stage === 'passcode' || stage === 'both'],
    [wait, wait.replace(String(RESEND_S), place('wait')), stage.endsWith('-sent')],
    [`>${words.loading}<`, `>${place('question')}<`, stage === 'question' || stage === 'both-sent'],
  ];
  return between.reduce((made, [said, kept, wanted]) => {
    const text = said.startsWith('>') ? said : escaped(said);
    if (wanted && !made.includes(text))
      throw new Error(`The asking page (${stage}, ${language}) does not say: ${said}`);
    return made.replaceAll(text, kept);
  }, html);
}

function spokenNow(): EarlyWords {
  const hint = place('hint');
  const page = (stage: Stage): string => withPlaces(renderToStaticMarkup(drawnAt(stage).element), stage);
  return {
    title: words.room,
    labels: {
      open: words.open,
      notMine: words.notMine,
      otherWay: words.otherWay,
      passcode: words.passcode,
      answer: words.answer,
    },
    ways: {
      text: { asked: words.byText(hint), sent: words.passcodeSentByText(hint), send: words.sendPasscode },
      voice: { asked: words.byVoice(hint), sent: words.passcodeSentByVoice(hint), send: words.callMe },
      email: { asked: words.byEmail(hint), sent: words.passcodeSentByEmail(hint), send: words.sendPasscode },
    },
    pages: {
      passcode: page('passcode'),
      'passcode-sent': page('passcode-sent'),
      both: page('both'),
      'both-sent': page('both-sent'),
      question: page('question'),
    },
  };
}

/** Not fetched later, as a page does: all of them are wanted. */
export const catalogues = {
  de: async () => de,
  pt: async () => pt,
  fr: async () => fr,
  es: async () => es,
  it: async () => it,
  nl: async () => nl,
  pl: async () => pl,
  ar: async () => ar,
};

/** And the style sheet of all of them, with the id by which React Native Web goes on from it. */
export async function makeEarly(): Promise<{ early: Early; style: { id: string; css: string } }> {
  const early: Partial<Early> = {};
  for (const next of LANGUAGES) {
    await speak(next, catalogues);
    early[next] = spokenNow();
  }
  const { id, dangerouslySetInnerHTML } = drawnAt('passcode').getStyleElement().props;
  return { early: early as Early, style: { id, css: dangerouslySetInnerHTML.__html } };
}
