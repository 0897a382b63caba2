/** What the demo's office has sent so far, and what came of it. */
import { resolveClosing } from '@under-lock/core/handling/closing';
import { type MessageFile } from '@under-lock/core/message/content';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { endGrants, record } from '../access/grants';
import { type Context } from '../context';
import { type GrantRow } from '../data/models';
import { makeReader, type Worker } from './accounts';
import { people, type PresetIds, READER_PASSWORD } from './office';
import { type DemoMessage, opened, sendDemo } from './send';

const DAY = 86_400_000;
const HOUR = 3_600_000;

interface Past {
  context: Context;
  maren: Worker;
  tobias: Worker;
  presetIds: PresetIds;
  /** By Maren Oduya. */
  send(demo: DemoMessage): Promise<GrantRow[]>;
  /** Five in the afternoon, so many days on, or as the office's calendar has it. */
  on(days: number): Date;
  file(name: string, type: string): MessageFile;
}

async function tellOfWinter({ send, on, file }: Past): Promise<void> {
  await send({
    preset: 'health',
    subject: 'Fitness papers before the winter season',
    reference: 'CR-2611-187',
    ago: 4 * DAY,
    closesAt: on(2),
    to: [people.pell],
    text: 'Dear Pell,\n\nyour papers for the winter season are attached. Please look at page two and tell me by Friday whether the restriction stays.\n\nWith kind regards\nMaren Oduya, crew records',
    files: [file('fitness-2026.pdf', 'application/pdf'), file('eyesight.jpg', 'image/jpeg')],
  });
}

async function tellOfAccident({ context, send, on }: Past): Promise<void> {
  const now = context.clock().getTime();
  const [claims, yard] = await send({
    preset: 'accident',
    subject: 'Accident report MV Teal',
    reference: 'AR-2611-009',
    ago: DAY + 2 * HOUR,
    closesAt: on(9),
    to: [people.northquay, people.yard, people.clinic],
    text: 'The report of the accident on board MV Teal on 14 November, as agreed. It names two people; please keep it to those who work on the case.\n\nMaren Oduya',
    html: '<p>The report of the accident on board <strong>MV Teal</strong> on 14 November, as agreed.</p><p>It names two people; please keep it to those who work on the case.</p><p>Maren Oduya</p>',
  });
  await opened(context, claims!, { times: 3, first: DAY, last: 2 * HOUR });
  await yard!.update({ wrongTries: 5, passcodePauses: 1, passcodePausedUntil: new Date(now + 40 * 60_000) });
  await record(
    { ...context, clock: () => new Date(now - 20 * 60_000) },
    { messageId: yard!.messageId, grantId: yard!.id, kind: 'passcode-paused' },
  );
}

/** One that both have read, one to an address that is no more, one that was withdrawn. */
async function sendEveryday({ context, send, on }: Past): Promise<void> {
  const crew = await send({
    preset: 'everyday',
    subject: 'Crew list, winter',
    reference: 'CR-2611-140',
    ago: 12 * DAY,
    closesAt: on(37),
    to: [people.clinic, people.northquay],
    text: 'The crew list for the winter timetable. Numbers as of 1 November.',
  });
  for (const grant of crew) await opened(context, grant, { times: 1, first: 11 * DAY, last: 11 * DAY });
  await send({
    preset: 'everyday',
    subject: 'Handover of claims files',
    reference: '',
    ago: 6 * HOUR,
    told: false,
    closesAt: on(14),
    to: [people.agent],
    text: 'The list of open claims for the handover.',
  });
  const old = await send({
    preset: 'health',
    subject: 'Medical certificates, October',
    reference: 'CR-2610-077',
    ago: 30 * DAY,
    closesAt: on(1),
    to: [people.clinic],
    text: 'The certificates that expire in October.',
  });
  await opened(context, old[0]!, { times: 1, first: 29 * DAY, last: 29 * DAY });
  const at = context.clock();
  await context.db.transaction((transaction) => endGrants(context, old, { state: 'withdrawn', at }, transaction));
}

async function sendInTheHouse({ context, maren, tobias, presetIds, on }: Past): Promise<void> {
  const { account } = maren;
  await sendDemo(
    context,
    { worker: tobias, presetIds, colleague: maren },
    {
      preset: 'staff',
      subject: 'Winter allowances, before they are announced',
      reference: 'PY-2611-031',
      ago: 3 * HOUR,
      closesAt: on(6),
      to: [{ name: account.name, address: account.address, phone: '' }],
      text: 'Maren,\n\nthe allowances for the winter timetable as the board agreed them. Please check the list of names for the night boats before Friday; it must not get round before the crews are told.\n\nTobias',
    },
  );
}

/** To somebody outside who has a list of their own. */
async function sendToSurveyor({ context, tobias, presetIds, send, on, file }: Past): Promise<void> {
  const surveyor = { ...people.surveyor, account: await makeReader(context, people.surveyor, READER_PASSWORD) };
  const [survey] = await send({
    preset: 'everyday',
    subject: 'Hull survey MV Teal, the yard’s copy',
    reference: 'SV-2611-003',
    ago: 5 * DAY,
    closesAt: on(9),
    to: [surveyor],
    text: 'The survey of 12 November with the owner’s remarks. Frames 14 to 19 are on page two.',
    files: [file('fitness-2026.pdf', 'application/pdf')],
  });
  await opened(context, survey!, { times: 2, first: 4 * DAY, last: 3 * DAY });
  await survey!.update({ unread: false });
  await send({
    preset: 'accident',
    subject: 'Photographs of the damage',
    reference: 'AR-2611-009',
    ago: 5 * HOUR,
    closesAt: on(5),
    to: [surveyor],
    text: 'The photographs that belong to the report.',
    files: [file('eyesight.jpg', 'image/jpeg')],
  });
  await sendDemo(
    context,
    { worker: tobias, presetIds },
    {
      preset: 'everyday',
      subject: 'Travel costs, November',
      reference: 'PY-2611-018',
      ago: 2 * DAY,
      closesAt: on(12),
      to: [surveyor],
      text: 'Your travel costs as we have booked them.',
    },
  );
}

/** @param papers The folder of the demo's files. */
export async function fillPast(
  context: Context,
  { maren, tobias, presetIds, papers }: Pick<Past, 'maren' | 'tobias' | 'presetIds'> & { papers: string },
): Promise<void> {
  const now = context.clock();
  const past: Past = {
    context,
    maren,
    tobias,
    presetIds,
    send: (demo) => sendDemo(context, { worker: maren, presetIds }, demo),
    on: (days) => {
      const day = new Date(now.getTime() + days * DAY);
      const local = `${day.toISOString().slice(0, 10)}T17:00`;
      const result = resolveClosing({ kind: 'exact', local }, now, context.config.office.calendar);
      return result.ok ? result.closesAt : day;
    },
    file: (name, type) => ({ name, type, bytes: new Uint8Array(readFileSync(join(papers, name))) }),
  };
  await tellOfWinter(past);
  await tellOfAccident(past);
  await sendEveryday(past);
  await sendInTheHouse(past);
  await sendToSurveyor(past);
}
