import { gearPair } from './gear-pair/index';
import { sectorMesh } from './sector-mesh/index';
import { rackMesh } from './rack-mesh';
import { belt, chain } from './belt/index';
import { BEVEL_MOUNTINGS, type BevelPair, bevelPair } from './bevel-pair';
import { crossedGears } from './crossed-gears';
import { rope } from './rope';
import { proportional } from './proportional';
import { type Rolling, rolling } from './rolling';
import { screwDrive } from './screw-drive';
import { wormDrive } from './worm-drive';
import { type CamContact, camContact } from './cam-contact';
import { type OneWayClutch, oneWayClutch, ratchet } from './one-way';
import type { CouplingKind } from './protocol';

export * from './protocol';
export * from './laws/index';

/** Every kind of coupling; a new one is a new file and a line here. */
export const COUPLING_KINDS: readonly CouplingKind[] = [
  gearPair,
  sectorMesh,
  rackMesh,
  bevelPair,
  wormDrive,
  crossedGears,
  belt,
  chain,
  rope,
  screwDrive,
  rolling,
  camContact,
  ratchet,
  oneWayClutch,
  proportional,
];
const byType = new Map(COUPLING_KINDS.map((k) => [k.type, k]));
/** The kind of a coupling by its type. */
export const couplingKind = (type: string): CouplingKind | undefined => byType.get(type);

export { type Belt, type Chain, beltPath, tensionLimit } from './belt/index';
export { BEVEL_MOUNTINGS, type BevelPair, type CamContact, type OneWayClutch, type Rolling };
export { MECHANISM_CLASSES, type Rope } from './rope';
export { screwEfficiency } from './screw-drive';
export { wormEfficiency } from './worm-drive';
export { THREAD, threadOf } from './screw-thread';
