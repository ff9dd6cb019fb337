import type { Entry, Said } from './entry';

/** Findings that are cured on Duty. */
export const DUTY = {
  'motor-stalls': {
    severity: 'fault',
    step: 'duty',
    says: ({ source, first, word, top }: Said<'source' | 'first' | 'word' | 'top'>) =>
      `“${source}” cannot start: the train needs ${first} ${word} and it gives ${top} at standstill`,
  },
  'grip-against-source': {
    severity: 'fault',
    step: 'duty',
    says: ({ name, names }: Said<'name' | 'names'>) =>
      `“${name}” holds against the motion that ${names} would lead: change the sense of the coupling, or a speed`,
  },
  'formula-stale': {
    severity: 'fault',
    step: 'duty',
    cures: ['formulas'],
    says: ({ problem }: Said<'problem'>) =>
      `a value is not what its formula gives (${problem}): work the formulas out again, or state the quantity otherwise`,
  },
  'source-too-fast': {
    severity: 'caution',
    step: 'duty',
    field: 'mostSpeed',
    says: ({ source, is, most, time }: Said<'source' | 'is' | 'most' | 'time'>) => `“${source}” runs at ${is}${time}, and must not exceed ${most}`,
  },
  'source-too-weak': {
    severity: 'caution',
    step: 'duty',
    field: 'mostTorque',
    says: ({ source, is, most, time }: Said<'source' | 'is' | 'most' | 'time'>) => `“${source}” is asked for ${is}${time}, and can give ${most}`,
  },
  'no-source': { severity: 'note', step: 'duty', says: () => 'nothing drives this design yet: give it a source on Duty' },
  'no-steady-speed': {
    severity: 'caution',
    step: 'duty',
    field: 'speed',
    says: ({ source }: Said<'source'>) => `“${source}”: state a speed near which it works, so that its power and its losses can be told`,
  },
  'no-steady-speed/spare': {
    severity: 'note',
    step: 'duty',
    says: ({ source, top, word }: Said<'source' | 'top' | 'word'>) =>
      `“${source}” gives more than the train needs at every speed, so there is no working point: shown at ${top} ${word}; a run shows how it speeds up`,
  },
  'source-without-joint': {
    severity: 'fault',
    step: 'duty',
    field: 'joint',
    says: ({ source }: Said<'source'>) => `source “${source}” drives no joint: choose the joint that it turns or pushes`,
  },
  'sources-on-one-joint': {
    severity: 'fault',
    step: 'duty',
    field: 'joint',
    cures: ['take-out-source'],
    says: ({ source }: Said<'source'>) => `“${source}” drives a joint that another source drives already: choose another joint or remove one source`,
  },
  'two-sources-one-freedom': {
    severity: 'fault',
    step: 'duty',
    cures: ['take-out-source'],
    says: ({ source, word }: Said<'source' | 'word'>) => `“${source}” drives a freedom that ${word}: remove it or free what it drives`,
  },
} as const satisfies Record<string, Entry>;
