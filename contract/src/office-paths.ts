/** Pages of the office's application that mail leads to: for whoever reads of them elsewhere. */
export const officePaths = {
  keys: () => '/keys',
  office: () => '/office',
  sentList: () => '/mail',
  receivedList: () => '/mail/received',
  sent: (id: string) => `/mail/${id}`,
  waiting: (id: string) => `/mail/waiting/${id}`,
  handed: (id: string) => `/write/handed/${id}`,
  setUp: (token: string) => `/set-up#${token}`,
} as const;

const NUMBER = '[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}';
const { sent, waiting, handed, keys, office, sentList, receivedList } = officePaths;
/** The longer before what they begin with. */
const LED_TO = [waiting, handed, sent, receivedList, sentList, keys, office].map((make) => make(NUMBER)).join('|');
const PATH = new RegExp(`^(?:${LED_TO})(?![\\w/-])`);

/** The first page that a text leads to by its whole address here; undefined where it leads nowhere. */
export const officePathIn = (text: string, origin: string): string | undefined =>
  text
    .split(origin)
    .slice(1)
    .flatMap((rest) => PATH.exec(rest)?.[0] ?? [])[0];
