import type { Entry, Said } from './entry';

/** Findings that are cured on Loads. */
export const LOADS = {
  jammed: {
    severity: 'fault',
    step: 'loads',
    says: ({ names }: Said<'names'>) =>
      `jammed: ${names} cannot be driven from this side; drive the worm or the screw, or make the lead larger or the friction smaller`,
  },
  'jammed/friction': {
    severity: 'fault',
    step: 'loads',
    says: ({ name }: Said<'name'>) =>
      `joint “${name}” jams: its friction grows with what drives it, without end; a longer guide, a smaller coefficient or a drive nearer its middle would do`,
  },
  'jammed/losses': {
    severity: 'fault',
    step: 'loads',
    says: ({ names }: Said<'names'>) =>
      `jammed at ${names}: on the way round, the losses are larger than what drives, so that no torque moves this train; drive it from the other end, or raise the efficiencies`,
  },
  'thrust-untaken': {
    severity: 'caution',
    step: 'loads',
    field: 'bearings',
    says: ({ name, force }: Said<'name' | 'force'>) =>
      `“${name}”: none of its bearings takes thrust, and ${force} N act along its axis: let one take it`,
  },
  'belt-slips': {
    severity: 'fault',
    step: 'loads',
    field: 'pretension',
    says: ({ name, element, needed }: Said<'name' | 'element' | 'needed'>) =>
      `“${name}” slips on “${element}” at this load: it needs a pre-tension of at least ${needed} N, a larger wrap, or more friction`,
  },
  'belt-slips/near': {
    severity: 'caution',
    step: 'loads',
    field: 'pretension',
    says: ({ name, element, used, needed }: Said<'name' | 'element' | 'used' | 'needed'>) =>
      `“${name}” uses ${used} % of what holds it on “${element}”: at ${needed} N of pre-tension it slips`,
  },
  'belt-slips/open': {
    severity: 'note',
    step: 'loads',
    field: 'pretension',
    says: ({ name, element, needed }: Said<'name' | 'element' | 'needed'>) =>
      `“${name}” needs a pre-tension of at least ${needed} N so as not to slip on “${element}” at this load: state it`,
  },
  'follower-not-pressed': {
    severity: 'caution',
    step: 'loads',
    says: ({ name }: Said<'name'>) =>
      `“${name}”: the follower is held by force, and nothing presses it on the cam here: give it a spring or a weight, or hold it by form`,
  },
  'rope-slack': {
    severity: 'caution',
    step: 'loads',
    says: ({ name, force }: Said<'name' | 'force'>) => `“${name}” would have to push with ${force} N: a rope only pulls, so it goes slack`,
  },
  'brake-holds': {
    severity: 'note',
    step: 'loads',
    says: ({ brake, needed, size, unit }: Said<'brake' | 'needed' | 'size' | 'unit'>) =>
      `“${brake}” holds what no source drives: ${needed} ${unit} of its ${size} ${unit} are needed`,
  },
  'brake-slips': {
    severity: 'caution',
    step: 'loads',
    field: 'value',
    says: ({ brake, needed, size, unit }: Said<'brake' | 'needed' | 'size' | 'unit'>) =>
      `“${brake}” slips: ${needed} ${unit} are needed and it holds ${size} ${unit}; a run shows how it moves then`,
  },
  'energy-unbalanced': {
    severity: 'fault',
    step: 'loads',
    says: ({ input, output, loss }: Said<'input' | 'output' | 'loss'>) =>
      `internal error: the power taken in (${input} W) is not what comes out (${output} W) and is lost (${loss} W); do not use these figures, and report the design`,
  },
  'forces-without-bound': {
    severity: 'caution',
    step: 'loads',
    says: ({ name, times }: Said<'name' | 'times'>) =>
      `near a dead point: joint ${name} carries ${times} times what acts on the design, and more without bound towards it; move home away from it, or stop the motion before`,
  },
  'load-without-work': {
    severity: 'caution',
    step: 'loads',
    field: 'torque',
    cures: ['about-its-axis'],
    says: ({ load, member, axis }: Said<'load' | 'member' | 'axis'>) =>
      `“${load}” drives nothing: no motion of “${member}” turns about its direction; ${axis}`,
  },
  'load-without-work/force': {
    severity: 'note',
    step: 'loads',
    field: 'force',
    says: ({ load, member }: Said<'load' | 'member'>) =>
      `“${load}” moves nothing: no motion of “${member}” goes along it at its point, so that only its bearings carry it`,
  },
  'statically-indeterminate': {
    severity: 'note',
    step: 'loads',
    says: () => `more joint forces than equations: the smallest forces that balance are shown`,
  },
} as const satisfies Record<string, Entry>;
