import { type Design } from '../../document/index';
import { settle } from '../../edits/index';
import { STAGE_KINDS } from '../../sizing/index';
import { stageRig, type Rig } from './base';
import { belt, cam, crossed, curvedRatchet, gears, oneWay, sector, trolley } from './couplings';
import { imported, led, profiles, rubbing, sources } from './sources';
import { chainOfJoints, loop, screwLoop, tiedLoop } from './joints';

/** A rig with fields of some elements stated otherwise, wheels moved to where they mesh. */
const otherwise = (rig: Rig, name: string, fields: (type: string, d: Design) => object | undefined): Rig => ({
  name,
  make() {
    const d = rig.make();
    return settle({ ...d, elements: d.elements.map((e) => ({ ...e, ...fields(e.type, d) })) }).design;
  },
});

export const RIGS: readonly Rig[] = [
  ...STAGE_KINDS.filter((k) => k.kind !== 'ratchet').map((k) => stageRig(k.kind)),
  gears,
  sector,
  crossed,
  belt('flat'),
  belt('v'),
  belt('toothed'),
  belt('sprocket'),
  trolley,
  cam('translating roller', { offset: 12 }),
  cam('translating flat face', { follower: 'flat' }),
  cam('swinging roller', { carries: 'swinging', distance: 110, arm: 90 }),
  cam('swinging flat face', { carries: 'swinging', follower: 'flat', distance: 110 }),
  otherwise(stageRig('rack'), 'helical rack, 25°', (type) =>
    type === 'gear' ? { helix: 14, hand: 'right', pressureAngle: 25 } : type === 'rack' ? { helix: 14, hand: 'left', pressureAngle: 25 } : undefined,
  ),
  otherwise(sector, 'helical sector, 25°', (type) =>
    type === 'gear'
      ? { helix: 14, hand: 'right', pressureAngle: 25 }
      : type === 'sector'
        ? { helix: 14, hand: 'left', pressureAngle: 25 }
        : undefined,
  ),
  otherwise(stageRig('bevel'), 'bevel pair, 25°', (type) => (type === 'bevel-gear' ? { pressureAngle: 25 } : undefined)),
  oneWay,
  curvedRatchet,
  ...['crank', 'power', 'torque', 'torque-line'].map(led),
  rubbing,
  imported,
  profiles,
  chainOfJoints,
  ...['revolute', 'prismatic', 'cylindrical', 'planar', 'spherical', 'pin-in-slot'].flatMap((t) => [loop(t, false), loop(t, true)]),
  screwLoop(false),
  screwLoop(true),
  tiedLoop(false),
  tiedLoop(true),
  sources,
];
