/** The request for a signed message: fixed words in each language, and nothing else passes for one. */
import { isRequest, requestContent } from '../src/locks/certificate/request-mail';
import { buildMessage } from '../src/message/build';
import { readMessage } from '../src/message/read';
import { LANGUAGES } from '../src/language';

const about = {
  sender: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
  recipient: { name: 'Zoë Quay', address: 'zoe@northquay.example' },
  officeName: 'Larkmoor Ferries',
};

test.each(LANGUAGES)(
  'in %s it says who asks, names no content, and survives the way through a mail',
  async (language) => {
    const asked = requestContent({ ...about, language });
    expect(asked.subject).toContain('Maren Oduya');
    expect(asked.text).toContain('Zoë Quay');
    expect(asked.text).toMatch(/Larkmoor Ferries$/);
    expect(asked.text).not.toMatch(/https?:|www\./);
    const back = await readMessage(buildMessage({ ...asked, messageId: 'x@larkmoor.example', date: new Date(0) }));
    expect(isRequest(back, about)).toBe(true);
  },
);

test('without a name it greets without one, and the sender without a name is called by address', () => {
  const asked = requestContent({
    ...about,
    sender: { name: '', address: about.sender.address },
    recipient: { name: '', address: about.recipient.address },
    language: 'en',
  });
  expect(asked.text).toMatch(/^Good day,\n/);
  expect(asked.subject).toContain(about.sender.address);
});

test.each([
  ['a word more', { text: `${requestContent({ ...about, language: 'en' }).text}\nPS: the code is 4711` }],
  ['a word less', { text: requestContent({ ...about, language: 'en' }).text.slice(0, -3) }],
  ['another subject', { subject: 'Results: positive' }],
  ['HTML beside', { html: '<p>4711</p>' }],
  ['a file', { files: [{ name: 'a', type: 'text/plain', bytes: new Uint8Array(1) }] }],
  ['another language’s subject', { subject: requestContent({ ...about, language: 'de' }).subject }],
])('with %s it is none', (_, change) =>
  expect(isRequest({ ...requestContent({ ...about, language: 'en' }), ...change }, about)).toBe(false),
);

test('one made out to somebody else is none', () => {
  expect(
    isRequest(
      requestContent({ ...about, recipient: { name: 'Somebody', address: 'x@y.example' }, language: 'en' }),
      about,
    ),
  ).toBe(false);
});
