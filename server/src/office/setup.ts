/** What a new office still has to set up, as far as the server can know; what it can't, an administrator says. */
import { officePaths } from '@under-lock/contract/office-paths';
import { type getSetup, type tryMail } from '@under-lock/contract/office';
import { type Reply } from '@under-lock/contract/client';
import { buildTried } from '@under-lock/core/notice/notice';
import { type Context } from '../context';
import { rows } from '../data/database';
import { type AccountRow } from '../data/models';
import { byAccount, logged } from '../log/log';
import { officeMail, sendUnfollowed } from '../mail/office-mail';

interface Counted {
  presets: number;
  authorities: number;
  colleagues: number;
}
interface Line {
  kind: string;
  at: Date;
  about: { outcome?: 'accepted' | 'refused' | 'later'; answer?: string };
}

export async function setup({ db, config }: Context): Promise<Reply<typeof getSetup>> {
  const [[counted], lines] = await Promise.all([
    rows<Counted>(
      db,
      `SELECT (SELECT count(*)::int FROM presets) AS presets, (SELECT count(*)::int FROM trust_anchors) AS authorities,
         (SELECT count(*)::int FROM accounts WHERE ended_at IS NULL) AS colleagues`,
    ),
    rows<Line>(
      db,
      `SELECT DISTINCT ON (kind) kind, at, about FROM office_log WHERE kind IN ('mail-tried', 'records-published')
       ORDER BY kind, at DESC, id DESC`,
    ),
  ]);
  const of = (kind: string): Line | undefined => lines.find((line) => line.kind === kind);
  const tried = of('mail-tried');
  const published = of('records-published');
  return {
    ...counted!,
    tlsRequired: config.smtp.tlsRequired,
    ...(tried === undefined
      ? {}
      : { mailTried: { at: tried.at, outcome: tried.about.outcome ?? 'later', answer: tried.about.answer ?? '' } }),
    ...(published === undefined ? {} : { recordsPublishedAt: published.at }),
  };
}

/** One mail through the office's own mail host, to whoever asks for it. */
export async function tryOutMail(context: Context, account: AccountRow): Promise<Reply<typeof tryMail>> {
  const { origin } = context.config;
  const raw = buildTried({
    ...officeMail(context, account),
    link: `${origin}${officePaths.office()}`,
  });
  const { outcome, answer } = await sendUnfollowed(context, account.address, raw);
  await logged(context, { kind: 'mail-tried', actor: byAccount(account.id), about: { outcome, answer } });
  return { outcome, answer };
}
