import { gear } from './gear';
import { rack } from './rack';
import { crank } from './crank';
import { rod } from './rod';
import { block } from './block';
import type { ElementKind } from './protocol';

export * from './protocol';
export * from './solid';
export { gearOf, num } from './gear';
export { rackOf } from './rack';

/** Every kind of element; a new one is a new file and a line here. */
export const ELEMENT_KINDS: readonly ElementKind[] = [gear, rack, crank, rod, block];
const byType = new Map(ELEMENT_KINDS.map((k) => [k.type, k]));
export const elementKind = (type: string): ElementKind | undefined => byType.get(type);
