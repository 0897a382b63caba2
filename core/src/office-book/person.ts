/** A person as they lie sealed in the office book: what the whole office knows of them, and who changed what when. */
import { type Person, personSchema } from '../people/kept-person';
import { passwordEntrySchema } from '../passwords/entry';
import { choiceSchema } from '../choosing/choice';
import { IDENTITY_CHECKS } from '../handling/handling';
import { z } from 'zod';

/** What is one worker's own: how they chose last, and whom they asked. */
const OWN = { lock: true, asked: true } as const;

export const changeSchema = z.object({
  at: z.string(),
  by: z.object({ id: z.string(), name: z.string() }),
  /** `chosen`: by the person themselves, through the colleague whose browser took it in. */
  what: z.enum(['shared', 'changed', 'imported', 'chosen']),
  fields: z.array(z.string()),
});
export type BookChange = z.infer<typeof changeSchema>;

export const bookPersonSchema = personSchema.omit(OWN).extend({
  firm: z.string().optional(),
  note: z.string().optional(),
  /** For locked files, agreed with them. */
  password: passwordEntrySchema.pick({ password: true, guesses: true, since: true, toldAt: true }).optional(),
  /** Another certificate or key than is known, as they chose it: nobody has compared it yet. */
  offered: z.object({ choice: choiceSchema, at: z.string(), check: z.enum(IDENTITY_CHECKS) }).optional(),
  /** Addresses of people who were said to be somebody else, however alike. */
  apart: z.array(z.string()).optional(),
  /** The newest first. */
  changes: z.array(changeSchema),
});
export type BookPerson = z.infer<typeof bookPersonSchema>;
/** Without its history, which whoever keeps it goes on with. */
export type Unchanged = Omit<BookPerson, 'changes'>;

/** What is looked at one by one, in the order in which it is shown. */
export const BOOK_FIELDS = [
  'name',
  'address',
  'firm',
  'phone',
  'secondAddress',
  'language',
  'check',
  'certificates',
  'keys',
  'mailForm',
  'fileWay',
  'password',
  'chose',
  'note',
  'offered',
  'apart',
] as const;
export type BookField = (typeof BOOK_FIELDS)[number];

/** What is looked at where two people's knowledge is put together. */
const KNOWN_FIELDS = BOOK_FIELDS.filter((field) => field !== 'offered' && field !== 'apart');

/** A name of its own for each, in `BookPerson` and `Person` alike. */
type Fields = Partial<Record<BookField, unknown>>;

/** What is the same is spelled the same; lists of certificates and keys are told apart by their newest. */
function spelled(field: BookField, value: unknown): string {
  if (value === undefined || value === '') return '';
  if (field === 'certificates')
    return (value as Person['certificates'])!.map(({ certificate }) => certificate)[0] ?? '';
  if (field === 'keys') return (value as Person['keys'])!.map(({ fingerprint }) => fingerprint)[0] ?? '';
  return JSON.stringify(value);
}

const isSame = (field: BookField, one: unknown, other: unknown): boolean =>
  spelled(field, one) === spelled(field, other);

/** Fields that hold something else in the one than in the other. */
export const fieldsChanged = (before: Fields | undefined, after: Fields): BookField[] =>
  BOOK_FIELDS.filter((field) => !isSame(field, before?.[field], after[field]));

/** Where one's own and the office's say something else; what only one of them knows is no difference. */
export const differences = (own: Person, book: BookPerson): BookField[] =>
  KNOWN_FIELDS.filter((field) => {
    const [mine, theirs] = [(own as Fields)[field], (book as Fields)[field]];
    return spelled(field, mine) !== '' && spelled(field, theirs) !== '' && !isSame(field, mine, theirs);
  });

/** What the office knows and one's own does not, and the other way round. */
export const onlyIn = (one: Fields, other: Fields): BookField[] =>
  KNOWN_FIELDS.filter((field) => spelled(field, one[field]) !== '' && spelled(field, other[field]) === '');

/** Of one item, the newest; older ones are forgotten. */
export const MOST_CHANGES = 50;

export interface Changing {
  by: BookChange['by'];
  at: Date;
  what: BookChange['what'];
}

/** As it is kept after a change, with what it was added to its history; undefined where nothing is another. */
export function changedPerson(
  before: BookPerson | undefined,
  after: Unchanged,
  { by, at, what }: Changing,
): BookPerson | undefined {
  const fields = fieldsChanged(before, after);
  if (fields.length === 0 && before !== undefined) return undefined;
  return {
    ...after,
    changes: [{ at: at.toISOString(), by, what, fields }, ...(before?.changes ?? [])].slice(0, MOST_CHANGES),
  };
}

/** What of a person of one's own the office is told: what it knows and one's own does not is kept. */
export const shared = (own: Person, book: BookPerson | undefined): Unchanged => {
  const { lock: _lock, asked: _asked, ...rest } = own;
  const { changes: _changes, ...known } = book ?? { changes: [] };
  return { ...known, ...rest };
};

/**
 * Of a person who comes from a file or a directory: what the book does not know, and where they differ what is chosen.
 * Another certificate or key than the book's is not taken: whoever compares it decides, on the person's page.
 */
export function withBroughtIn(book: BookPerson | undefined, person: Unchanged, takesTheirs: boolean): Unchanged {
  if (book === undefined) return person;
  const { changes: _, ...known } = book;
  const filled = Object.fromEntries(
    Object.entries(person).filter(
      ([field, value]) =>
        value !== '' &&
        ((takesTheirs && field !== 'certificates' && field !== 'keys') ||
          spelled(field as BookField, (known as Fields)[field as BookField]) === ''),
    ),
  );
  return { ...known, ...filled };
}

/** A person as a plan knows them, and which of it came from the office book. */
export interface PlannedPerson {
  person: Person;
  fromBook: BookField[];
}

/**
 * Whether a person's own choice of a locked file came later than what was agreed before: the password they set then is
 * the only one they know.
 */
export const choseFileSince = ({ chose }: Pick<BookPerson, 'chose'>, before: string): boolean =>
  chose?.lock === 'file' && chose.at > before;

/**
 * One's own goes first, field by field, but for the locked file they chose. Certificates and keys are taken whole, never
 * mixed.
 */
export function withBook(own: Person | undefined, book: BookPerson | undefined): PlannedPerson | undefined {
  if (book === undefined) return own === undefined ? undefined : { person: own, fromBook: [] };
  const chosen: BookField[] =
    book.chose === undefined ? [] : ['chose', ...(book.chose.lock === 'file' ? (['fileWay'] as const) : [])];
  const fromBook = [...new Set([...onlyIn(book, own ?? {}), ...chosen])];
  const taken = Object.fromEntries(fromBook.map((field) => [field, (book as Fields)[field]]));
  const { success, data } = personSchema.safeParse({ ...own, ...taken });
  return success ? { person: data, fromBook } : own === undefined ? undefined : { person: own, fromBook: [] };
}
