/** Every endpoint there is: mounted by the server, walked by the test of who may call what. */
import * as account from './account';
import * as blob from './blob';
import * as certificate from './certificate';
import { type Endpoint } from './endpoint';
import * as fileLock from './file-lock';
import * as live from './live';
import * as message from './outgoing';
import * as office from './office';
import * as choice from './choice';
import * as officeBook from './office-book';
import * as openpgp from './openpgp';
import * as phone from './phone';
import * as preset from './handling';
import * as received from './received';
import * as registered from './registered';
import * as release from './release';
import * as room from './room';
import * as rules from './rules';
import * as search from './search';
import * as slot from './slot';
import * as submission from './submission';
import * as vault from './vault';
import * as writing from './writing';

const isEndpoint = (value: unknown): value is Endpoint =>
  typeof value === 'object' && value !== null && 'method' in value && 'access' in value;

export const allEndpoints: readonly Endpoint[] = [
  account,
  blob,
  certificate,
  fileLock,
  live,
  message,
  office,
  officeBook,
  openpgp,
  phone,
  preset,
  received,
  registered,
  release,
  room,
  rules,
  search,
  slot,
  submission,
  choice,
  vault,
  writing,
].flatMap((feature) => Object.values(feature).filter(isEndpoint));
