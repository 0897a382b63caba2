/** The lines of a plan as they are shown: what is the same for many is said once. */
import { type PlanLine } from '@under-lock/core/outgoing/delivery-plan';

/** One line, or many that go the same way. */
export interface Group {
  lines: readonly PlanLine[];
  folded: boolean;
}

/** More than these are said in one line. */
const APART = 3;

/** What makes two lines the same to whoever looks: lock, check and warnings, without to which number. */
export function wayOf({ chosen, recipient }: PlanLine): string {
  const { lock, clear = false, check, warnings } = chosen;
  const { kind, question, orPassword } = check ?? {};
  return JSON.stringify([lock, clear, kind, question, orPassword, recipient.file?.way.scope, warnings]);
}

/**
 * In the order of the recipients. Of more than three that go the same way the first stands by itself, and the others
 * are one line where the second of them would have stood.
 * @param keys The way of each line.
 */
export function grouped(lines: readonly PlanLine[], keys: readonly string[] = lines.map(wayOf)): Group[] {
  const ways = new Map<string, PlanLine[]>();
  lines.forEach((line, index) => {
    const same = ways.get(keys[index]!);
    if (same === undefined) ways.set(keys[index]!, [line]);
    else same.push(line);
  });
  return lines.flatMap((line, index): Group[] => {
    const same = ways.get(keys[index]!)!;
    if (same.length <= APART || same[0] === line) return [{ lines: [line], folded: false }];
    return same[1] === line ? [{ lines: same.slice(1), folded: true }] : [];
  });
}
