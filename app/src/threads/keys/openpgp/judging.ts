import { KeyJudge } from '@under-lock/contract/judging/keys';
import { client } from '../../opened/vault';

export const keyJudge = new KeyJudge(client);
