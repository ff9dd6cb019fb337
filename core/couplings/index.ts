import { gearPair } from './gear-pair';
import { rackMesh } from './rack-mesh';
import { belt, chain } from './belt';
import { bevelPair } from './bevel-pair';
import { crossedGears } from './crossed-gears';
import { proportional } from './proportional';
import { rolling } from './rolling';
import { screwDrive } from './screw-drive';
import { wormDrive } from './worm-drive';
import { camContact } from './cam-contact';
import { oneWayClutch, ratchet } from './one-way';
import type { CouplingKind } from './protocol';

export * from './protocol';

/** Every kind of coupling; a new one is a new file and a line here. */
export const COUPLING_KINDS: readonly CouplingKind[] = [
  gearPair,
  rackMesh,
  bevelPair,
  wormDrive,
  crossedGears,
  belt,
  chain,
  screwDrive,
  rolling,
  camContact,
  ratchet,
  oneWayClutch,
  proportional,
];
const byType = new Map(COUPLING_KINDS.map((k) => [k.type, k]));
export const couplingKind = (type: string): CouplingKind | undefined => byType.get(type);

export { beltPath } from './belt-path';
export { tensionLimit } from './belt';
export { screwEfficiency } from './screw-drive';
export { wormEfficiency } from './worm-drive';
