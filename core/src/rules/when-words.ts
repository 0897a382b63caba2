/** When a rule acts, as one says it. */
import { type Condition, describe } from './conditions/index';
import { either, type Names } from './conditions/kind';
import { type When } from './rule';

/** “When it goes to somebody outside, and it has files, unless it is tagged “open””; “Always” where nothing is asked. */
export function whenInWords({ allOf, anyOf, noneOf }: When, names: Names): string {
  const said = (all: readonly Condition[]): string => either(all.map((one) => describe(one, names)));
  const wanted = [...allOf.map((one) => said([one])), ...(anyOf.length === 0 ? [] : [said(anyOf)])];
  const when = wanted.length === 0 ? 'Always' : `When ${wanted.join(', and ')}`;
  return noneOf.length === 0 ? when : `${when}, unless ${said(noneOf)}`;
}
