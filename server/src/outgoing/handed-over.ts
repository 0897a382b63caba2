/** What is handed over to leave. */
import { type NewCopy, type NewGrant } from '@under-lock/contract/outgoing';
import { type releaseSchema } from '@under-lock/contract/release';
import { type Ruled } from '@under-lock/contract/rules';
import { type Bytes } from '@under-lock/core/bytes';
import { type Handling } from '@under-lock/core/handling/handling';
import { type z } from 'zod';

export type ReleaseAsked = z.output<typeof releaseSchema>;

export interface Dispatch {
  id: string;
  contentBlobId: string;
  reference: string;
  from?: string | undefined;
  handling: Handling;
  presetId?: string | undefined;
  openReason?: string | undefined;
  ruled?: Ruled | undefined;
  inReplyTo?: string | undefined;
  answers?: string[] | undefined;
  mailId?: string | undefined;
  leavesAt?: Date | undefined;
  summary: Bytes;
  words?: Bytes | undefined;
  grants: NewGrant[];
  copies?: NewCopy[] | undefined;
  release?: ReleaseAsked | undefined;
}
