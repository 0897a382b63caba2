/**
 * Letters as other programs write them: keys and requests by OpenSSL, certified by the authority that others use,
 * handed to our mail door by SMTP.
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createTransport } from 'nodemailer';
import { type House } from './house';

export const pem = (der: string): string =>
  `-----BEGIN CERTIFICATE-----\n${der.replace(/(.{64})/g, '$1\n')}\n-----END CERTIFICATE-----\n`;

export interface Desk {
  folder: string;
  openssl(...args: string[]): Buffer;
  put(name: string, content: string | Uint8Array): string;
}

/** A folder to work in, with OpenSSL in it. */
export function openDesk(): Desk {
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-e2e-'));
  return {
    folder,
    openssl: (...args) =>
      execFileSync('openssl', args, { cwd: folder, stdio: ['ignore', 'pipe', 'ignore'], maxBuffer: 1 << 28 }),
    put(name, content) {
      writeFileSync(join(folder, name), content);
      return name;
    },
  };
}

export interface Writer {
  address: string;
  sign(content: string, ...more: string[]): Buffer;
  encrypt(content: Buffer | string, to: string, ...more: string[]): Buffer;
}

/** Somebody outside with a certificate of their own. `to` names a PEM file on the desk. */
export async function writerOutside(
  house: House,
  { openssl, put, folder }: Desk,
  name: string,
  address: string,
): Promise<Writer> {
  openssl(
    'req',
    '-new',
    '-newkey',
    'rsa:2048',
    '-nodes',
    '-keyout',
    'sender.key',
    '-subj',
    `/CN=${name}`,
    '-addext',
    `subjectAltName=email:${address}`,
    '-outform',
    'DER',
    '-out',
    'sender.csr',
  );
  const issued = (await (
    await fetch(`${house.outside}/web/ca.islestrust.example/certificates`, {
      method: 'POST',
      body: new Uint8Array(readFileSync(join(folder, 'sender.csr'))),
    })
  ).json()) as { certificate: string; chain: string[] };
  put('sender.pem', pem(issued.certificate));
  put('chain.pem', pem(issued.chain[0]!));
  return {
    address,
    sign: (content, ...more) =>
      openssl(
        'cms',
        '-sign',
        '-in',
        put('content', content),
        '-signer',
        'sender.pem',
        '-inkey',
        'sender.key',
        '-certfile',
        'chain.pem',
        ...more,
      ),
    encrypt: (content, to, ...more) => openssl('cms', '-encrypt', '-in', put('plain', content), ...more, to),
  };
}

/** Hands a mail to the office's door. @throws with the door's answer when it says no */
export async function deliver(house: House, raw: Uint8Array | string, from: string, to: string): Promise<void> {
  const transport = createTransport({ host: '127.0.0.1', port: house.mailPort, ignoreTLS: true });
  try {
    await transport.sendMail({ envelope: { from, to }, raw: typeof raw === 'string' ? raw : Buffer.from(raw) });
  } finally {
    transport.close();
  }
}
