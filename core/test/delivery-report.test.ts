import { execFileSync } from 'node:child_process';
import { buildDeliveryReport, failedDelivery, type FailedMail } from '../src/message/delivery-report';
import { hopsOf } from '../src/message/hops';
import { utf8 } from '../src/bytes';

const failed: FailedMail = {
  messageId: 'a1@larkmoor.example',
  date: new Date('2026-11-26T09:00:00Z'),
  from: { name: 'Larkmoor Ferries', address: 'reading-room@larkmoor.example' },
  to: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
  host: 'larkmoor.example',
  zone: 'Europe/Lisbon',
  recipient: 'pell@postbox.example',
  sentAt: new Date('2026-11-25T14:30:00Z'),
  answer: '550 5.1.1 No such\r\nX-Injected: user',
  after: 'asked',
  link: 'https://lock.larkmoor.example/sent/1',
};

test('a report of ours is read as one, by us and by python, and its answer brings no field of its own', () => {
  const raw = buildDeliveryReport(failed);
  expect(failedDelivery(raw)).toBe('550 5.1.1 No such X-Injected: user');
  const program = [
    'import email, email.policy, json, sys',
    'm = email.message_from_bytes(sys.stdin.buffer.read(), policy=email.policy.default)',
    'text, status = list(m.iter_parts())',
    'about, who = status.get_payload()',
    "print(json.dumps([m.get_content_type(), m['Content-Type'].params['report-type'], m['Auto-Submitted'], text.get_content(), about['Reporting-MTA'], who['Final-Recipient'], who['Action'], who['Status'], who['X-Injected'], [str(d) for d in m.defects]]))",
  ].join('\n');
  const read = JSON.parse(execFileSync('python3', ['-c', program], { input: raw, encoding: 'utf8' })) as unknown[];
  const text = read.splice(3, 1)[0] as string;
  expect(read).toEqual([
    'multipart/report',
    'delivery-status',
    'auto-replied',
    'dns; larkmoor.example',
    'rfc822; pell@postbox.example',
    'failed',
    '5.1.1',
    null,
    [],
  ]);
  expect(text).toContain('did not reach pell@postbox.example: it was refused.');
  expect(text).toContain(failed.link);
});

test('without an answer it says that it failed, and no more', () => {
  const raw = buildDeliveryReport({ ...failed, answer: '', after: 'taken' });
  expect(failedDelivery(raw)).toBe('undeliverable');
});

test('hops are counted in the head alone', () => {
  const hop = 'Received: by a.example\r\n  with SMTP\r\n';
  expect(hopsOf(utf8(`${hop}received: by b\r\nSubject: x\r\n\r\n${hop}`))).toBe(2);
  expect(hopsOf(utf8('Subject: x'))).toBe(0);
});
