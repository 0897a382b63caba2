/** Readers outside, as the demo has them. */
import { type Page } from '@playwright/test';
import pg from 'pg';
import { execFileSync } from 'node:child_process';
import { type House, latestText } from './house';

/** The link of somebody who has been told and has not opened it. */
export async function unopenedLink(house: House, database: pg.Client): Promise<{ link: string; grantId: string }> {
  const { rows } = await database.query<{ id: string; address: string }>(
    `SELECT id, address FROM grants WHERE state = 'held' AND check_kind = 'text' AND notice_state = 'accepted' AND open_count = 0 AND passcode_sent_at IS NULL AND passcode_paused_until IS NULL`,
  );
  for (const { id, address } of rows) {
    const { messages } = (await (await fetch(`${house.outside}/mailboxes/${encodeURIComponent(address)}`)).json()) as {
      messages: { id: string }[];
    };
    for (const { id: mailId } of messages) {
      const { text } = (await (await fetch(`${house.outside}/mails/${mailId}`)).json()) as { text: string };
      const [link] = new RegExp(`http:\\S+/room/${id}#\\S+`).exec(text) ?? [];
      if (link !== undefined) return { link, grantId: id };
    }
  }
  throw new Error('Everybody has opened everything');
}

const IN_ENGLISH = { send: 'Send me the passcode', passcode: 'Passcode', open: 'Open the message' };

/** On a page that asks for it: the passcode is sent to `number` and typed, and the message opened. */
export async function passByText(reading: Page, house: House, number: string, words = IN_ENGLISH): Promise<void> {
  await reading.getByRole('button', { name: words.send }).click();
  const field = reading.getByLabel(words.passcode, { exact: true });
  await field.waitFor();
  await field.fill(/\d{6}/.exec(await latestText(house, number))![0]);
  await reading.getByRole('button', { name: words.open }).click();
}

/** How many text messages each phone has got. */
export async function allTexts(house: House): Promise<number[]> {
  const { phones } = (await (await fetch(`${house.outside}/phones`)).json()) as { phones: { texts: unknown[] }[] };
  return phones.map(({ texts }) => texts.length);
}

/** All that the database holds, as text in which octets are octets. */
export const databaseDump = ({ databaseUrl }: House): string =>
  execFileSync('/usr/lib/postgresql/15/bin/pg_dump', ['--data-only', databaseUrl], {
    maxBuffer: 512 * 1024 * 1024,
    stdio: ['ignore', 'pipe', 'ignore'],
  }).toString('latin1');

/** As long as it is used. */
export async function withDatabase<T>(house: House, use: (database: pg.Client) => Promise<T>): Promise<T> {
  const database = new pg.Client({ connectionString: house.databaseUrl });
  await database.connect();
  try {
    return await use(database);
  } finally {
    await database.end();
  }
}
