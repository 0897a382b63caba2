/** The locked file. Containers are loaded when there is something to seal or to judge. */
import { z } from 'zod';
import { defined } from '../../defined';
import { type Rights } from '../../handling/handling';
import { type Correspondent } from '../../people/address';
import { type Language } from '../../language';
import { type WantedCopy } from '../wanted';
import { type Among } from '../known';
import { type ChosenLine, type CopyLock } from '../lock';
import { assessFile, type FileMissing, type FileReason, type FileWarning } from './assess';
import { fileWayIn } from './known';
import { type FileRules } from './rules';
import { type FileWay, fileWaySchema } from '../../ways/file-way';

export interface FileOrder {
  lock: 'file';
  way: FileWay;
  /** Undefined where it is only packed. */
  password: string | undefined;
  /** Files that are locked already go along as they are. */
  lockedStay?: boolean;
  recipient: Correspondent;
  language: Language;
  officeName: string;
  templates: FileRules['templates'];
  storedTypes: readonly string[];
  zone: string;
  neutralSubject: string;
  rights: Rights;
  paper: 'a4' | 'letter';
}

/** `password` is absent where it is only packed. */
const howSchema = z.object({
  way: fileWaySchema,
  password: z.string().optional(),
  /** Absent for no. */
  lockedStay: z.boolean().optional(),
});

/** To each by a mail of their own: each has a password of their own. */
const wantedFile =
  (among: Among) =>
  ({ chosen, recipient: { address, name, role } }: ChosenLine): WantedCopy<'file'> => {
    const { way, password, lockedStay } = fileWayIn(among, address);
    const clear = chosen.clear === true;
    const how: z.infer<typeof howSchema> = {
      way,
      ...(lockedStay ? { lockedStay } : {}),
      ...(clear ? {} : { password: password!.password }),
    };
    return { lock: 'file', clear, how, recipients: [{ address, name, role }] };
  };

export const fileLock: CopyLock<'file', FileMissing, FileWarning, FileReason, FileOrder> = {
  lock: 'file',
  gives: 'copy',
  oneEach: true,
  assess: assessFile,
  want: (lines, among) => lines.map(wantedFile(among)),
  order({ how, recipients }, { known: { office, fileRules, zone }, rights, paper, language, neutralSubject }) {
    const { way, password, lockedStay } = howSchema.parse(how);
    const { name, address } = recipients[0]!;
    return {
      lock: 'file',
      way,
      password,
      ...defined({ lockedStay }),
      recipient: { name, address },
      language,
      officeName: office.name,
      templates: fileRules.templates,
      storedTypes: fileRules.storedTypes,
      zone,
      neutralSubject,
      rights,
      paper,
    };
  },
  async seal({ lock: _, paper, ...order }, message, { materials }) {
    const { sealInFile } = await import('./seal');
    return sealInFile({ ...order, message, materials: { ...materials, paper } });
  },
  recognise: async (...given) => (await import('./recognise-mail')).recogniseFileMail(...given),
  remember({ how, recipients: [recipient] }, among) {
    const { way, password } = howSchema.parse(how);
    const own = among.settled.find(({ address }) => address === recipient!.address)?.password;
    if (password === undefined || own?.remember === false) return undefined;
    const told = fileWayIn(among, recipient!.address).password?.told === true;
    return { password, telling: way.telling, told };
  },
};
