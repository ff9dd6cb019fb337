import type { Finding, Id } from '../fields/types';
import { CATALOGUE, type Code, type Key, type SaidWith, type Step, type Way } from './catalogue';

type Words<K extends Key> = SaidWith<K> extends undefined ? object : SaidWith<K>;
interface Entry {
  severity: Finding['severity'];
  step: Step;
  field?: string;
  cures?: readonly Way[];
  says(p: unknown): string;
}
// The catalogue keeps each sentence's words apart; `finding` and `problem` ask for the right ones by the key.
const entryOf = (key: Key): Entry => CATALOGUE[key] as Entry;
const codeOf = (key: Key): Code => key.split('/')[0] as Code;

/** A minus before a figure, where a word came with a hyphen; names stand in quotation marks and stay as they are. */
const withMinus = (text: string): string => text.replace(/“[^”]*”|(?<=^|[\s(])-(?=\d)/g, (found) => (found === '-' ? '−' : found));

/** A finding of the catalogue about items. `field` where it is not the same one always. */
export function finding<K extends Key>(key: K, ids: Id[], words: Words<K>, field?: string): Finding {
  const entry = entryOf(key);
  const cures = field ?? entry.field;
  const made: Finding = { code: codeOf(key), severity: entry.severity, step: entry.step, ids, message: withMinus(entry.says(words)) };
  if (entry.cures) made.cures = entry.cures;
  return cures === undefined ? made : { ...made, field: cures };
}

/** What is wrong with one element in itself, before its place in the design is known. */
export interface ElementProblem {
  key: Key;
  words: Readonly<Record<string, string | number>>;
  field?: string;
}

/** A finding of the catalogue about an element, to be completed by its name. */
export const problem = <K extends Key>(key: K, words: Omit<Words<K>, 'element'>, field?: string): ElementProblem => ({
  key,
  words: words as ElementProblem['words'],
  field,
});

/** The finding that an element's problem makes. */
export const elementFinding = (p: ElementProblem, id: Id, name: string): Finding =>
  finding(p.key, [id], { ...p.words, element: name } as never, p.field);
