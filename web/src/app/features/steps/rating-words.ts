import type { RatingLine } from '@unirota/core';

/** What is rated, in words. */
export const WHAT: Readonly<Record<RatingLine['what'], string>> = {
  root: $localize`Tooth root`,
  flank: $localize`Tooth flank`,
  'bearing life': $localize`Bearing life`,
  'bearing, static': $localize`Bearing at rest`,
  'plain bearing': $localize`Plain bearing`,
  'shaft, fatigue': $localize`Shaft, fatigue`,
  'shaft, yield': $localize`Shaft, yield`,
  'shaft, slope': $localize`Shaft, slope`,
  'shaft, deflection': $localize`Shaft, deflection`,
  'shaft, critical speed': $localize`Shaft, critical speed`,
  key: $localize`Key`,
  'press fit, slip': $localize`Press fit, slip`,
  'press fit, stress': $localize`Press fit, stress`,
  'screw, threads': $localize`Screw, threads`,
  'screw, strength': $localize`Screw, strength`,
  'screw, buckling': $localize`Screw, buckling`,
  'screw, whirling': $localize`Screw, whirling`,
  'ball screw life': $localize`Ball screw life`,
  'belt, strand force': $localize`Belt, strand force`,
  'belt, slip': $localize`Belt, slip`,
  'belt, power': $localize`Belt, power`,
  'chain, breaking': $localize`Chain, breaking`,
  'chain, power': $localize`Chain, power`,
  'rope, breaking': $localize`Rope, breaking`,
  'rope, bending': $localize`Rope, bending on the drum`,
  'worm wheel, wear': $localize`Worm wheel, wear`,
  'worm wheel, bending': $localize`Worm wheel, tooth bending`,
  'spring, stress': $localize`Spring, stress`,
  'spring, travel': $localize`Spring, travel`,
  'spring, buckling': $localize`Spring, buckling`,
  'spring, fatigue': $localize`Spring, fatigue`,
  'cam, pressure': $localize`Cam, contact pressure`,
  'ratchet tooth, bending': $localize`Ratchet tooth, bending`,
  'source, torque': $localize`Source, greatest load`,
  'source, warming': $localize`Source, warming`,
};
const GEARS = $localize`No single change of face width, module or material makes it bear what is wanted.`;
const BEARING = $localize`It needs a larger bearing: the rating that is needed stands below.`;
const SHAFT = $localize`No single change of fillets, keys or steel makes it bear what is wanted: it needs a larger diameter.`;
export const STIFFER = $localize`It needs a stouter shaft, or bearings nearer to what loads it.`;
const SCREW = $localize`No single change of the nut’s length or the steel makes it bear what is wanted: it needs a larger screw.`;
const BAND = $localize`It needs a wider or stronger belt, larger pulleys or less pre-tension.`;
const CHAIN = $localize`It needs a larger pitch, more strands or a larger sprocket.`;
const WORM = $localize`It needs a larger wheel, a wider one, or another bronze.`;
const SPRING = $localize`It needs a thicker or stronger wire, or a smaller coil diameter.`;
const SOURCE = $localize`It needs a larger motor, or another ratio.`;
/** What is said where no fix is found. */
export const HINT: Readonly<Record<RatingLine['what'], string>> = {
  root: GEARS,
  flank: GEARS,
  'bearing life': BEARING,
  'bearing, static': $localize`It needs a larger bearing.`,
  'plain bearing': $localize`It needs a wider bush, or one of another material.`,
  'shaft, fatigue': SHAFT,
  'shaft, yield': SHAFT,
  'shaft, slope': STIFFER,
  'shaft, deflection': STIFFER,
  'shaft, critical speed': STIFFER,
  key: SHAFT,
  'press fit, slip': $localize`It needs more interference, a longer joint or a thicker hub.`,
  'press fit, stress': $localize`It needs less interference, a thicker hub or a stronger one.`,
  'screw, threads': SCREW,
  'screw, strength': SCREW,
  'screw, buckling': $localize`It needs a larger screw, or a shorter free length.`,
  'screw, whirling': $localize`It needs a larger screw, a shorter free length, or to turn more slowly.`,
  'ball screw life': $localize`It needs a ball screw of a larger rating.`,
  'belt, strand force': BAND,
  'belt, slip': $localize`No pre-tension within its strand force holds it: it needs more wrap, or another belt.`,
  'belt, power': BAND,
  'chain, breaking': CHAIN,
  'chain, power': CHAIN,
  'rope, breaking': $localize`It needs a rope of a larger breaking force, or more falls.`,
  'rope, bending': $localize`It needs a larger drum, or a thinner rope.`,
  'worm wheel, wear': WORM,
  'worm wheel, bending': WORM,
  'spring, stress': SPRING,
  'spring, travel': $localize`It needs a longer coil, or fewer turns of a thicker wire.`,
  'spring, buckling': $localize`It needs a bolt or a sleeve to guide it, or a larger coil diameter.`,
  'spring, fatigue': SPRING,
  'cam, pressure': $localize`It needs a wider cam, a larger roller or a larger base circle.`,
  'ratchet tooth, bending': $localize`It needs fewer or lower teeth, a wider wheel or a larger one.`,
  'source, torque': SOURCE,
  'source, warming': SOURCE,
};
