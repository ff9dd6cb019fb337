import type { Entry, Said } from './entry';

/** Findings that are cured on Motion. */
export const MOTION = {
  'homes-contradict': {
    severity: 'caution',
    step: 'motion',
    field: 'home',
    says: ({ name, at }: Said<'name' | 'at'>) =>
      `joint “${name}”: its home cannot stand together with the homes of the other joints; with these it stands at ${at}`,
  },
  'home-beyond-train-stop': {
    severity: 'caution',
    step: 'motion',
    field: 'home',
    says: ({ name, which, at }: Said<'name' | 'which' | 'at'>) =>
      `at home ${name} stands beyond its ${which} stop, at ${at}; move the home or the stop`,
  },
  'home-outside-stops': {
    severity: 'fault',
    step: 'motion',
    field: 'home',
    cures: ['home-between-stops'],
    says: ({ name }: Said<'name'>) => `joint ${name}: home lies outside its stops; move home or the stop`,
  },
  'moves-one-way': {
    severity: 'note',
    step: 'motion',
    says: ({ name }: Said<'name'>) => `${name} moves what it drives in one sense only; in the other it stands where it is`,
  },
  'engagement-open': {
    severity: 'note',
    step: 'motion',
    says: ({ name, what, at }: Said<'name' | 'what' | 'at'>) =>
      `“${name}”: ${what} ends at ${at} and no stop keeps it from leaving engagement there; give the train a stop before`,
  },
  'leaves-engagement': {
    severity: 'fault',
    step: 'motion',
    says: ({ name, what, at, way, enough }: Said<'name' | 'what' | 'at' | 'way' | 'enough'>) =>
      `“${name}”: ${what} ends at ${at} and the stops let it go to ${way}, so it leaves engagement on the way; ${enough ? `${enough} would do, or a nearer stop` : 'make it longer or set the stop nearer'}`,
  },
  'no-travel': {
    severity: 'caution',
    step: 'motion',
    field: 'upper',
    says: ({ name }: Said<'name'>) => `joint ${name}: both stops are at the same place, so nothing can move`,
  },
  'profile-incomplete': { severity: 'fault', step: 'motion', says: ({ source, message }: Said<'source' | 'message'>) => `“${source}”: ${message}` },
  'reference-outside-stops': {
    severity: 'note',
    step: 'motion',
    field: 'lower',
    says: ({ name }: Said<'name'>) => `joint ${name}: its reference position lies outside its stops; turning begins at the nearer stop`,
  },
  'run-too-stiff': {
    severity: 'caution',
    step: 'motion',
    says: ({ time }: Said<'time'>) =>
      `the run was given up at ${time} s: too much happens in too little time (friction at rest, or a very stiff spring); ask for a shorter run or soften it`,
  },
  'stop-pair-several': {
    severity: 'caution',
    step: 'motion',
    says: ({ name, name2, count }: Said<'name' | 'name2' | 'count'>) =>
      Number(count) === 0
        ? `${name} and ${name2} cannot stop each other: they do not move against each other`
        : `${name} and ${name2} do not stop each other: ${count} freedoms move them against each other, and only one may`,
  },
  'stop-pair-undecided': {
    severity: 'caution',
    step: 'motion',
    says: ({ name, name2 }: Said<'name' | 'name2'>) =>
      `whether ${name} and ${name2} stop each other cannot be told in reasonable time: state the stops as numbers`,
  },
  'stop-pair-bodiless': {
    severity: 'caution',
    step: 'motion',
    says: ({ name, name2 }: Said<'name' | 'name2'>) => `${name} and ${name2} cannot stop each other: give both an element that can touch`,
  },
  'stop-pair-overlaps': {
    severity: 'caution',
    step: 'motion',
    says: ({ name, name2 }: Said<'name' | 'name2'>) => `${name} and ${name2} cannot stop each other: they overlap in the reference position`,
  },
  'stop-pair-misses': {
    severity: 'note',
    step: 'motion',
    says: ({ name, name2 }: Said<'name' | 'name2'>) => `${name} and ${name2} never touch, so neither stops the other`,
  },
  'stop-faces-members': {
    severity: 'fault',
    step: 'motion',
    says: ({ name, member }: Said<'name' | 'member'>) => `${name}: one face must be on ${member} and the other on a member that it moves against`,
  },
  'stop-faces-miss': {
    severity: 'fault',
    step: 'motion',
    says: ({ name, element, element2, at }: Said<'name' | 'element' | 'element2' | 'at'>) =>
      `${name}: “${element}” and “${element2}” never meet: ${at}`,
  },
  'stop-faces-missing': {
    severity: 'fault',
    step: 'motion',
    says: ({ name }: Said<'name'>) => `${name}: two faces are needed, and one is not there; choose both again`,
  },
} as const satisfies Record<string, Entry>;
