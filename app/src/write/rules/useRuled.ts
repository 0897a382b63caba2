/** What the office's rules need to know of the draft at hand. */
import { type Draft } from '@under-lock/core/outgoing/draft';
import { type KnownOfRules } from '@under-lock/core/outgoing/ruled';
import { type Policy } from '@under-lock/core/rules/policy';
import { type OfficeLists } from '@under-lock/core/scan/text';
import { useMemo } from 'react';
import { useNewTo } from '../../rules/usePolicy';
import { type SeenInDraft, useSeen } from '../seen/useSeen';

interface Given {
  policy: Policy | undefined;
  addresses: readonly string[];
  departments: readonly string[];
}

const NOBODY: ReadonlySet<string> = new Set();

function knownOfRules(
  { open, passed, files }: SeenInDraft,
  policy: Policy,
  newTo: ReadonlySet<string>,
  departments: readonly string[],
): KnownOfRules {
  const looked = new Map(
    files.flatMap(({ file, state }) => (state?.at === 'seen' ? [[file.blobId, state.inside] as const] : [])),
  );
  return {
    policy,
    looked: { open, passed, files: looked },
    // What was stopped or failed is looked through as far as it is: rules may ask for that.
    isLookedThrough: files.every(({ state }) => state !== undefined && state.at !== 'looking'),
    newTo,
    departments,
  };
}

/** What the scan sees in the draft, and what rules need to know of it; `asking` while somebody is still looked up. */
export function useRuled(draft: Draft, { policy, addresses, departments }: Given) {
  const lists = useMemo(
    (): OfficeLists | undefined => policy && { words: policy.words, patterns: policy.patterns },
    [policy],
  );
  const seen = useSeen(draft, lists);
  const newTo = useNewTo(policy, addresses);
  const { open, passed, files } = seen;
  const rules = useMemo(
    () => policy && knownOfRules({ ...seen, open, passed, files }, policy, newTo ?? NOBODY, departments),
    // What the scan gives is new at each drawing; what it saw is not.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [open, passed, JSON.stringify(files.map(({ state }) => state?.at)), policy, newTo, departments],
  );
  return { seen, rules, asking: newTo === undefined };
}
