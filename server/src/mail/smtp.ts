/** Mail leaves the house here: SMTP (RFC 5321) through a pool, raw bytes as they were built. */
import { createTransport } from 'nodemailer';
import { readFileSync } from 'node:fs';
import { type SigningKey } from './dkim';

export type SmtpOutcome =
  | { outcome: 'accepted'; answer: string; junk: boolean }
  /** A permanent no (5yz). */
  | { outcome: 'refused'; answer: string }
  /** A temporary no (4yz) or nobody there: worth another try. */
  | { outcome: 'later'; answer: string };

export interface SmtpDoor {
  send(envelope: { from: string; to: string }, raw: Uint8Array): Promise<SmtpOutcome>;
  close(): void;
}

/** Some hosts say in their answer where they put it; that is the only place to learn it from. */
const saysJunk = (answer: string): boolean => /\bjunk\b|\bspam\b|\bquarantine/i.test(answer);

/** What a signature covers: everything a reader sees of the head (RFC 6376 §5.4.1). */
const SIGNED = 'From:To:Cc:Subject:Date:Message-ID:MIME-Version:Content-Type';

export interface NextHop {
  url: string;
  /** Nothing leaves without TLS, and without a certificate of the next host's that is right for its name. */
  tlsRequired: boolean;
  /** A PEM file of the authorities it is known by, where that is not the public ones. */
  ca: string | undefined;
}

/** `keyOf` is asked for each mail; without a key it goes unsigned. */
export function createSmtpDoor(
  { url, tlsRequired, ca }: NextHop,
  keyOf: () => Promise<SigningKey | undefined>,
): SmtpDoor {
  const transport = createTransport({
    url,
    pool: true,
    requireTLS: tlsRequired,
    tls: { minVersion: 'TLSv1.2', ...(ca === undefined ? {} : { ca: readFileSync(ca) }) },
    maxConnections: 4,
    connectionTimeout: 8_000,
    greetingTimeout: 8_000,
    socketTimeout: 20_000,
  } as object);
  return {
    async send(envelope, raw) {
      try {
        const key = await keyOf();
        const info = (await transport.sendMail({
          envelope,
          raw: Buffer.from(raw),
          ...(key === undefined ? {} : { dkim: { ...key, headerFieldNames: SIGNED } }),
        })) as { response: string };
        return { outcome: 'accepted', answer: info.response, junk: saysJunk(info.response) };
      } catch (error) {
        const { code, responseCode, response, message } = error as {
          code?: string;
          responseCode?: number;
          response?: string;
          message: string;
        };
        // That the line can't be kept secret is nothing the mail could do about: it waits.
        if (code === 'ETLS')
          return { outcome: 'later', answer: `No TLS with the next mail host: ${message}`.slice(0, 300) };
        const permanent = responseCode !== undefined && responseCode >= 500;
        return { outcome: permanent ? 'refused' : 'later', answer: (response ?? message).slice(0, 300) };
      }
    },
    close: () => transport.close(),
  };
}
