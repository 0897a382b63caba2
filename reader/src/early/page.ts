/** The early script: the asking page first, then everything else. `data-then` names the reading page's scripts. */
import early from 'early-built';
import { AskingEarly } from './early';
import { wantedLanguages } from '../spoken';
import { EARLY_ID } from './built';

const AGAIN_MS = [1_000, 3_000, 10_000];

function load(address: string): Promise<void> {
  return new Promise((resolve, reject) => {
    const script = document.createElement('script');
    script.src = address;
    script.onload = () => resolve();
    script.onerror = () => {
      script.remove();
      reject(new Error(`${address} did not come`));
    };
    document.body.append(script);
  });
}

/** A line that is cut for a moment must not leave a page that does nothing. */
async function loadSurely(address: string): Promise<void> {
  for (let turn = 0; ; turn++) {
    try {
      return await load(address);
    } catch {
      await new Promise((again) => setTimeout(again, AGAIN_MS[Math.min(turn, AGAIN_MS.length - 1)]));
    }
  }
}

const scripts = (document.currentScript?.dataset.then ?? '').split(' ').filter(Boolean);
const root = document.getElementById(EARLY_ID);
const here = root === null ? undefined : AskingEarly.here(root, early, wantedLanguages());

async function begin(): Promise<void> {
  if (here !== undefined) {
    window.underLockEarly = here;
    await here.start().catch(() => undefined);
    // What was shown is drawn before the heavy part begins.
    await new Promise((drawn) => setTimeout(drawn, 0));
  }
  for (const address of scripts) {
    // Fetched side by side, run in their order.
    const hint = document.createElement('link');
    Object.assign(hint, { rel: 'preload', as: 'script', href: address });
    document.head.append(hint);
  }
  for (const address of scripts) await loadSurely(address);
}

void begin();
