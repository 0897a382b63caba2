/** Who works at the demo's office, by what presets, and whom they write to. */
import { ALL_RIGHTS, NO_RIGHTS } from '@under-lock/core/handling/handling';
import { type PresetTerms } from '@under-lock/core/handling/preset';

/** Where the three work, in their order. */
export const DEPARTMENTS = ['Crew office', 'Pay office', 'Compliance'];

export const staff = [
  {
    local: 'maren.oduya',
    name: 'Maren Oduya',
    title: 'Crew records',
    role: 'worker',
    password: 'tide table on the pier',
    phone: '+447700900101',
  },
  {
    local: 'tobias.quill',
    name: 'Tobias Quill',
    title: 'Payroll',
    role: 'worker',
    password: 'seven knots by lantern',
    phone: '+447700900102',
  },
  {
    local: 'ines.varga',
    name: 'Ines Varga',
    title: 'Compliance',
    role: 'administrator',
    password: 'harbour ledger in ink',
    phone: '+447700900103',
  },
] as const;

const closed = { closing: false, identity: false, rights: false };
export const presets = {
  everyday: {
    name: 'Everyday papers',
    sentence:
      'For timetables, orders and forms that must not lie about in mailboxes; the reader may keep them and pass them on, and gets a copy of their own where they have a certificate or a key.',
    terms: {
      closing: { kind: 'two-weeks' },
      check: 'text',
      question: false,
      rights: ALL_RIGHTS,
      watermark: false,
      copies: true,
      clear: false,
      textOpen: true,
      audience: 'anyone',
      receipt: false,
      choose: true,
      remindHours: 0,
      mayLoosen: { closing: true, identity: true, rights: false },
    },
  },
  health: {
    name: 'Crew health',
    sentence: 'For fitness and medical papers: read and answered, never saved or passed on; closes within two weeks.',
    terms: {
      closing: { kind: 'two-weeks' },
      check: 'text',
      question: false,
      rights: { ...NO_RIGHTS, reply: true, copy: true },
      watermark: false,
      copies: false,
      clear: false,
      textOpen: false,
      audience: 'anyone',
      receipt: true,
      remindHours: 48,
      mayLoosen: closed,
    },
  },
  accident: {
    name: 'Accident file',
    sentence:
      'For reports that several firms work on: replies go to all, paper copies are allowed and carry a watermark.',
    terms: {
      closing: { kind: 'end-of-quarter' },
      check: 'text',
      question: false,
      rights: { ...NO_RIGHTS, reply: true, replyAll: true, print: true, copy: true },
      watermark: true,
      copies: false,
      clear: false,
      textOpen: false,
      audience: 'anyone',
      receipt: false,
      confirm: true,
      remindHours: 0,
      mayLoosen: { ...closed, closing: true },
    },
  },
  pay: {
    name: 'Pay and bank details',
    sentence: 'For anything with an account number: a passcode and a question only the two of you can answer.',
    terms: {
      closing: { kind: 'end-of-week' },
      check: 'voice',
      question: true,
      rights: { ...NO_RIGHTS, reply: true },
      watermark: true,
      copies: false,
      clear: false,
      textOpen: false,
      audience: 'outsiders',
      receipt: false,
      remindHours: 0,
      mayLoosen: closed,
    },
  },
  public: {
    name: 'Public notice',
    sentence:
      'For timetables, tenders and answers to the press: nothing secret. It leaves as ordinary mail with your signature, and anybody can read it.',
    terms: {
      closing: { kind: 'two-weeks' },
      check: 'question',
      question: false,
      rights: ALL_RIGHTS,
      watermark: false,
      copies: false,
      clear: true,
      textOpen: false,
      audience: 'anyone',
      receipt: false,
      remindHours: 0,
      mayLoosen: closed,
    },
  },
  staff: {
    name: 'Inside the house',
    sentence: 'For what stays among colleagues: nobody outside can be written to, and it can only be looked at.',
    terms: {
      closing: { kind: 'end-of-month' },
      check: 'question',
      question: false,
      rights: { ...NO_RIGHTS, reply: true },
      watermark: true,
      copies: false,
      clear: false,
      textOpen: false,
      audience: 'staff',
      receipt: false,
      remindHours: 0,
      mayLoosen: { ...closed, closing: true },
    },
  },
} satisfies Record<string, { name: string; sentence: string; terms: PresetTerms }>;
export type PresetName = keyof typeof presets;

export type PresetIds = Readonly<Record<PresetName, string>>;

export const people = {
  pell: {
    name: 'Pell Anders',
    address: 'pell.anders@postbox.example',
    phone: '+447700900417',
    secondAddress: 'p.anders@islandmail.example',
  },
  yard: { name: 'Saltmarsh Yard', address: 'office@saltmarsh.example', phone: '+447700900262' },
  clinic: { name: 'Dr Aune, Harbour Clinic', address: 'records@harbourclinic.example', phone: '+447700900355' },
  northquay: { name: 'Northquay claims', address: 'claims@northquay.example', phone: '+447700900348' },
  agent: { name: 'Former agent', address: 'moved-away@northquay.example', phone: '+447700900390' },
  surveyor: { name: 'Mira Talvik, surveyor', address: 'mira.talvik@saltmarsh.example', phone: '+447700900376' },
} as const;

export const READER_PASSWORD = 'seven lanterns at low tide';
