import { DUTY } from './duty';
import { TRAIN } from './train';
import { LAYOUT } from './layout';
import { MOTION } from './motion';
import { LOADS } from './loads';

export { STEPS, type Said, type Step, type Way } from './entry';

/**
 * Everything that the checks have to say, known by its code: how bad it is, in which step and field it is cured, in what
 * sentence, and by which ways. Where one thing is said in several ways, the part of the key behind the stroke tells them
 * apart; the code is what stands before it.
 * @hidden Its entries read best in their files.
 */
export const CATALOGUE = { ...DUTY, ...TRAIN, ...LAYOUT, ...MOTION, ...LOADS } as const;

export type Key = keyof typeof CATALOGUE;
type CodeOf<K extends string> = K extends `${infer C}/${string}` ? C : K;
/** Code of a finding. */
export type Code = CodeOf<Key>;
export type SaidWith<K extends Key> = Parameters<(typeof CATALOGUE)[K]['says']>[0];
