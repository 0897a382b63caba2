/**
 * Taking a choice back by the link in the mail that told of it. No identity check is asked: what comes next goes as
 * whoever writes decides, as if nothing had been chosen (docs/decisions/29).
 */
import { randomUUID } from 'node:crypto';
import { type lookAtChoice } from '@under-lock/contract/choice';
import { type Reply } from '@under-lock/contract/client';
import { sealChoice } from '@under-lock/core/choosing/sealed';
import { type ChoiceWay } from '@under-lock/core/ways/chose';
import { record } from '../access/grants';
import { type Context } from '../context';
import { rows } from '../data/database';
import { currentKey } from '../office-book/members';
import { currentLook } from '../office/look';
import { Problem } from '../problem';
import { linkHash, tellOfChoice } from './choice';

const nothingThere = (): Problem =>
  new Problem('wrong-link', 404, 'No choice stands under this link: it was taken back, or another one took its place');

/** Reads only: whatever follows the link without being a person changes nothing. @throws Problem `wrong-link` */
export async function choiceByLink(
  context: Context,
  id: string,
  token: Uint8Array,
): Promise<Reply<typeof lookAtChoice>> {
  const [found] = await rows<{ way: ChoiceWay; at: Date }>(
    context.db,
    'SELECT way, chosen_at AS at FROM choices WHERE id = $1 AND link_hash = $2',
    [id, linkHash(token)],
  );
  if (found === undefined) throw nothingThere();
  return {
    officeName: context.config.office.name,
    colour: (await currentLook(context)).look.colour,
    chosen: found,
  };
}

/**
 * The link works once. What goes to the office book is sealed here, so that nothing else can go there by it.
 * @throws Problem `wrong-link`
 */
export async function takeChoiceBack(context: Context, id: string, token: Uint8Array): Promise<void> {
  const next = randomUUID();
  const who = await context.db.transaction(async (transaction) => {
    // Held until the transaction ends, so that no renewal is finished over it.
    const office = await currentKey(context, transaction);
    if (office === undefined) throw nothingThere();
    const sealed = await sealChoice(office, office.epoch, next, { way: 'none' });
    const [taken] = await rows<{
      name: string;
      address: string;
      language: string;
      grantId: string | null;
      messageId: string | null;
    }>(
      context.db,
      `UPDATE choices SET id = $3, way = 'none', epoch = $4, sealed = $5, chosen_at = $6, settled_by = NULL, kept_as = NULL, link_hash = NULL
        WHERE id = $1 AND link_hash = $2
        RETURNING name, address, language, grant_id AS "grantId", (SELECT message_id FROM grants WHERE id = grant_id) AS "messageId"`,
      [id, linkHash(token), next, office.epoch, Buffer.from(sealed), context.clock()],
      transaction,
    );
    if (taken === undefined) throw nothingThere();
    const { grantId, messageId } = taken;
    if (grantId !== null && messageId !== null)
      await record(context, { messageId, grantId, kind: 'chose', data: { way: 'none' } }, transaction);
    return taken;
  });
  await tellOfChoice(context, who, { language: who.language });
}
