/**
 * What the sender decides about one message: a product of chains, so that the strictest of any number of handlings does
 * not depend on their order.
 */
import { z } from 'zod';

/**
 * How a reader proves who they are before the room releases anything. Ordered from the weaker to the stronger; all but
 * the first two carry a one-time passcode. `told` is a one-time password that the sender tells them by another way.
 */
export const IDENTITY_CHECKS = ['question', 'told', 'email', 'voice', 'text'] as const;
export type IdentityCheck = (typeof IDENTITY_CHECKS)[number];
/** Whether whoever has passed one of them has proved at least what another asks. */
export const isAsStrong = (passed: IdentityCheck, asked: IdentityCheck): boolean =>
  IDENTITY_CHECKS.indexOf(passed) >= IDENTITY_CHECKS.indexOf(asked);
/** Those that prove at least that much, the weakest first. */
export const checksFrom = (least: IdentityCheck): IdentityCheck[] =>
  IDENTITY_CHECKS.filter((check) => isAsStrong(check, least));
export type PasscodeWay = Exclude<IdentityCheck, 'question' | 'told'>;
export const isPasscodeWay = (check: IdentityCheck): check is PasscodeWay => check !== 'question' && check !== 'told';

/**
 * Every way somebody may be known: a colleague by their `account`, a registered reader by their `password`, everybody
 * else by an identity check.
 */
export const WAYS_KNOWN = [...IDENTITY_CHECKS, 'account', 'password'] as const;
export type WayKnown = (typeof WAYS_KNOWN)[number];
export const isIdentityCheck = (way: WayKnown): way is IdentityCheck => way !== 'account' && way !== 'password';

/**
 * Whether a registered reader's password is enough for an access that asks `asked`. It is as good as the strongest
 * check its owner has passed
 * (`knownBy`, nothing after a password was reset by mail), and never stands in for a question asked besides.
 */
export const passwordSuffices = (
  knownBy: IdentityCheck | undefined,
  asked: { check: IdentityCheck; question: boolean },
): boolean =>
  knownBy !== undefined && isAsStrong(knownBy, asked.check) && !(asked.question && asked.check !== 'question');

/** What a reader may do beyond reading. None of them is "only look". */
export const RIGHTS = ['reply', 'replyAll', 'forward', 'print', 'copy', 'save'] as const;
export type Right = (typeof RIGHTS)[number];
export type Rights = Record<Right, boolean>;

/** Whom a message may reach. `nobody` is what two handlings that exclude each other leave. */
export const AUDIENCES = ['anyone', 'outsiders', 'staff', 'nobody'] as const;
export type Audience = (typeof AUDIENCES)[number];

export const rightsSchema = z.object({
  reply: z.boolean(),
  replyAll: z.boolean(),
  forward: z.boolean(),
  print: z.boolean(),
  copy: z.boolean(),
  save: z.boolean(),
});

export const handlingSchema = z.object({
  closesAt: z.coerce.date(),
  check: z.enum(IDENTITY_CHECKS),
  /** A shared question besides the passcode. */
  question: z.boolean(),
  rights: rightsSchema,
  /** The reader's name and the time over text and files. */
  watermark: z.boolean(),
  /**
   * Whoever has a certificate or key may get a copy into their own mail program, which nobody can close or withdraw.
   */
  copies: z.boolean().default(false),
  /** Nothing in it is secret: it may leave as ordinary mail, signed and readable by anyone on its way. */
  clear: z.boolean().default(false),
  /** Where only the files are locked, the text may travel as readable as any mail. */
  textOpen: z.boolean().default(false),
  audience: z.enum(AUDIENCES),
});
export type Handling = z.infer<typeof handlingSchema>;

/** A handling as it is wanted, before it is known when the message goes. */
export type HandlingTerms = Omit<Handling, 'closesAt'>;
export const handlingTermsSchema = handlingSchema.omit({ closesAt: true });

export const rightsFrom = (may: (right: Right) => boolean): Rights => ({
  reply: may('reply'),
  replyAll: may('replyAll'),
  forward: may('forward'),
  print: may('print'),
  copy: may('copy'),
  save: may('save'),
});
export const NO_RIGHTS: Rights = rightsFrom(() => false);
export const ALL_RIGHTS: Rights = rightsFrom(() => true);

/** What asks nothing and allows everything: the neutral element of {@link mergeTerms}. */
export const LOOSEST_TERMS: HandlingTerms = {
  check: 'question',
  question: false,
  rights: ALL_RIGHTS,
  watermark: false,
  copies: true,
  clear: true,
  textOpen: true,
  audience: 'anyone',
};

export const stricterCheck = (a: IdentityCheck, b: IdentityCheck): IdentityCheck => (isAsStrong(a, b) ? a : b);

function narrower(a: Audience, b: Audience): Audience {
  if (a === b || b === 'anyone') return a;
  return a === 'anyone' ? b : 'nobody';
}

/** The strictest of each part but the closing date. */
export const mergeTerms = (a: HandlingTerms, b: HandlingTerms): HandlingTerms => ({
  check: stricterCheck(a.check, b.check),
  question: a.question || b.question,
  rights: rightsFrom((right) => a.rights[right] && b.rights[right]),
  watermark: a.watermark || b.watermark,
  copies: a.copies && b.copies,
  clear: a.clear && b.clear,
  textOpen: a.textOpen && b.textOpen,
  audience: narrower(a.audience, b.audience),
});

/**
 * The strictest of each part of two handlings. A meet in a lattice (commutative, associative, idempotent), so the
 * order in which
 * presets, rules and the worker speak never matters.
 */
export const mergeHandling = (a: Handling, b: Handling): Handling => ({
  ...mergeTerms(a, b),
  closesAt: a.closesAt <= b.closesAt ? a.closesAt : b.closesAt,
});

/**
 * All that these terms ask, but for whom it is: that was judged elsewhere, or may differ, as answers cross the line
 * between staff and outsiders.
 */
export const forAnybody = (terms: HandlingTerms): HandlingTerms => ({ ...terms, audience: LOOSEST_TERMS.audience });

/**
 * What colleagues may do with what somebody outside wrote to the office: its writer asked nothing of them, and what was
 * once asked of that writer is not asked of us.
 */
export const asItsWriterMeant = <Terms extends HandlingTerms>(terms: Terms): Terms => ({
  ...terms,
  rights: ALL_RIGHTS,
  watermark: LOOSEST_TERMS.watermark,
});

/** Whether `a` asks at least what `b` asks, in every part. */
export function isAsStrict(a: Handling, b: Handling): boolean {
  const merged = mergeHandling(a, b);
  return (
    merged.closesAt.getTime() === a.closesAt.getTime() &&
    merged.check === a.check &&
    merged.question === a.question &&
    merged.watermark === a.watermark &&
    merged.copies === a.copies &&
    merged.clear === a.clear &&
    merged.textOpen === a.textOpen &&
    merged.audience === a.audience &&
    RIGHTS.every((right) => merged.rights[right] === a.rights[right])
  );
}
