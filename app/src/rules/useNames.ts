/** What the office has that a rule may name, by what it is called. */
import { useMemo } from 'react';
import { usePresets } from '../handling/usePresets';
import { departmentsOf, useColleagues } from '../session/useOffice';
import { type Names } from './forms/part';
import { usePolicy } from './usePolicy';

const named = ({ id, name }: { id: string; name: string }) => ({ value: id, label: name });

export function useNames(): Names | undefined {
  const { data: presets } = usePresets();
  const { data: colleagues } = useColleagues();
  const { data: policy } = usePolicy();
  return useMemo(
    () =>
      presets === undefined || colleagues === undefined || policy === undefined
        ? undefined
        : {
            presets: presets.filter(({ active, terms }) => active && !terms.clear).map(named),
            tags: policy.tags.map(({ id, word }) => ({ value: id, label: word })),
            lists: [...policy.words, ...policy.patterns].map(named),
            colleagues: colleagues.map(({ address, name }) => ({
              value: address.toLowerCase(),
              label: name || address,
            })),
            departments: departmentsOf(colleagues).map((value) => ({ value, label: value })),
          },
    [presets, colleagues, policy],
  );
}
