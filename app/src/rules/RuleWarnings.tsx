/** What is the matter with a rule beside the others, said before anybody is surprised by it. */
import { type Reply } from '@under-lock/contract/client';
import { type getRuleFigures } from '@under-lock/contract/rules';
import { KIND_WORDS } from '@under-lock/core/scan/finding';
import { type Rule, type Warning, warningsOf } from '@under-lock/core/rules/rule';
import { Stack, Text } from '@under-lock/ui';

const MANY = 3;

function sentenceOf(warning: Warning, nameOf: (id: string) => string, own: string): string | undefined {
  switch (warning.kind) {
    case 'never-acts':
      return warning.rule === own ? 'It can never act: its conditions exclude one another.' : undefined;
    case 'swallowed':
      return warning.rule === own
        ? `Whenever it acts, “${nameOf(warning.by)}” acts too and asks as much.`
        : warning.by === own
          ? `Whenever “${nameOf(warning.rule)}” acts, this acts too and asks as much.`
          : undefined;
    case 'no-way-left':
    case 'no-lock-left': {
      const other = warning.rule === own ? warning.and : warning.and === own ? warning.rule : undefined;
      const left = warning.kind === 'no-lock-left' ? 'no lock is left for anybody' : 'nobody can get a locked file';
      return other === undefined ? undefined : `Where “${nameOf(other)}” acts as well, ${left}.`;
    }
  }
}

type Seen = Reply<typeof getRuleFigures>['seen'];

/** Kinds it asks about of which much was called something else. */
function mistaken({ when }: Rule, seen: Seen): string[] {
  const kinds = new Set([...when.allOf, ...when.anyOf].flatMap((one) => (one.kind === 'finding-is' ? one.kinds : [])));
  return [...kinds].flatMap((kind) => {
    const of = seen.filter((one) => one.kind === kind);
    const [found, harmless] = [
      of.reduce((sum, one) => sum + one.found, 0),
      of.reduce((sum, one) => sum + one.harmless, 0),
    ];
    return harmless >= MANY && harmless * 4 >= found
      ? [`${harmless} of ${found} times “${KIND_WORDS[kind]}” was called “not what it looks like” in the last 30 days.`]
      : [];
  });
}

export function warningsFor(
  rule: Rule,
  rules: readonly Rule[],
  { seen, releasers }: { seen: Seen; releasers: number },
): string[] {
  const all = [...rules.filter(({ id }) => id !== rule.id), rule];
  const nameOf = (id: string): string => all.find((one) => one.id === id)?.name ?? '';
  return [
    ...warningsOf(all).flatMap((warning) => sentenceOf(warning, nameOf, rule.id) ?? []),
    ...mistaken(rule, seen),
    ...(releasers > 0 || !rule.effects.some(({ kind }) => kind === 'release')
      ? []
      : ['Nobody may release messages yet: say who, under Office › Colleagues.']),
  ];
}

export const RuleWarnings = ({ warnings }: { warnings: readonly string[] }) =>
  warnings.length === 0 ? null : (
    <Stack>
      {warnings.map((one) => (
        <Text key={one} kind="small" tone="amber">{`▲ ${one}`}</Text>
      ))}
    </Stack>
  );
