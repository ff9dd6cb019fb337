import { gearPair } from './gear-pair';
import { rackMesh } from './rack-mesh';
import type { CouplingKind } from './protocol';

export * from './protocol';

/** Every kind of coupling; a new one is a new file and a line here. */
export const COUPLING_KINDS: readonly CouplingKind[] = [gearPair, rackMesh];
const byType = new Map(COUPLING_KINDS.map((k) => [k.type, k]));
export const couplingKind = (type: string): CouplingKind | undefined => byType.get(type);
