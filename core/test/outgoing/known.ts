/** An office of which nothing is known but itself and who writes: what a plan begins from. */
import { OUR_RULES } from '../../src/locks/file/rules';
import { OUR_LOOK } from '../../src/notice/look';
import { type Known } from '../../src/outgoing/known';

export const knownOf = (now: Date, maxRecipients = 200): Known => ({
  office: {
    name: 'Larkmoor Ferries',
    mailDomain: 'larkmoor.example',
    calendar: { zone: 'Europe/Lisbon', dayEnds: '17:00', weekEndsOn: 5, maxDays: 366 },
    limits: { maxBytes: 25_000_000, maxRecipients },
    look: OUR_LOOK,
  },
  account: { address: 'maren.oduya@larkmoor.example', name: 'Maren Oduya', further: [] },
  people: [],
  colleagues: [],
  knownKeys: {},
  registered: [],
  presets: [],
  certificates: new Map(),
  keys: new Map(),
  signs: { certificate: false, openpgp: false },
  passwords: [],
  fileRules: OUR_RULES,
  now,
  zone: 'Europe/Lisbon',
});
