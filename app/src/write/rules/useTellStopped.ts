/** That rules don't let a draft go is counted for the office, once for each rule: of whom and of what, it is not told. */
import { tellStopped } from '@under-lock/contract/rules';
import { type Verdict } from '@under-lock/core/rules/rule';
import { useEffect, useRef } from 'react';
import { api } from '../../api';

/** What is put right at once was no stop. */
const REST_MS = 3_000;

export function useTellStopped(draftId: string, verdict: Verdict | undefined): void {
  const told = useRef(new Set<string>());
  const stopping = (verdict?.acted ?? [])
    .filter(({ rule, demand: { stops } }) => stops.length > 0 && !told.current.has(rule.id))
    .map(({ rule }) => rule.id)
    .join(',');
  useEffect(() => {
    if (stopping === '') return undefined;
    const timer = setTimeout(() => {
      const rules = stopping.split(',');
      for (const id of rules) told.current.add(id);
      // A count that is lost is no harm to anybody.
      api(tellStopped, { body: { draftId, rules } }).catch(() => undefined);
    }, REST_MS);
    return () => clearTimeout(timer);
  }, [draftId, stopping]);
}
