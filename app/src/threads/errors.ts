/**
 * Comlink carries an error's name and words only; the server's problems keep their code across the thread. Loaded on
 * both sides.
 */
import { ApiProblem, problemSchema } from '@under-lock/contract/problem';
import { transferHandlers } from 'comlink';
import { metOld } from './old-vault';

interface Thrown {
  value: unknown;
}
interface Wire {
  isError: boolean;
  value: { name?: string; message?: string };
}

const original = transferHandlers.get('throw')!;

transferHandlers.set('throw', {
  canHandle: original.canHandle,
  serialize(thrown: unknown) {
    const { value } = thrown as Thrown;
    if (value instanceof ApiProblem)
      return [{ isError: true, value: { name: 'ApiProblem', message: JSON.stringify(value.details) } }, []];
    return original.serialize(thrown);
  },
  deserialize(wire: unknown) {
    const { value } = wire as Wire;
    if (value.name === 'ApiProblem') throw new ApiProblem(problemSchema.parse(JSON.parse(value.message ?? '{}')));
    if (value.name === 'VaultOldError') metOld(value.message);
    return original.deserialize(wire);
  },
});
