import type { Entry, Said } from './entry';

/** Findings that are cured on Layout. */
export const LAYOUT = {
  'shape-open': {
    severity: 'caution',
    step: 'layout',
    says: ({ element }: Said<'element'>) =>
      `“${element}”: its surface is open, so its mass is unknown and counts as nothing; state the mass of its member`,
  },
  'shape-inertia': {
    severity: 'fault',
    step: 'layout',
    says: ({ element }: Said<'element'>) => `“${element}”: no body can have the moments of inertia that are stated; import its file again`,
  },
  'shape-place-lost': {
    severity: 'caution',
    step: 'layout',
    says: ({ element, places }: Said<'element' | 'places'>) =>
      `“${element}”: the newer file has no ${places}; what refers to it stands where it was: point it at another place`,
  },
  'shape-not-checked': {
    severity: 'note',
    step: 'layout',
    says: ({ element }: Said<'element'>) =>
      `“${element}”: its content is not here, so it was not checked against other bodies; import its file again`,
  },
  'pawl-between-teeth': {
    severity: 'note',
    step: 'layout',
    says: ({ name, element, off }: Said<'name' | 'element' | 'off'>) =>
      `“${name}”: the reference position counts as one in which the pawl stands in a tooth, but its nose is ${off}° off a face; turn “${element}” by that on its shaft`,
  },
  'pawl-off-wheel': {
    severity: 'note',
    step: 'layout',
    field: 'at',
    says: ({ name, off }: Said<'name' | 'off'>) =>
      `“${name}”: the nose of the pawl stands ${off} mm from the tips of the wheel: its force is taken as a couple until it reaches the teeth`,
  },
  'apexes-apart': {
    severity: 'fault',
    step: 'layout',
    says: ({ name, off }: Said<'name' | 'off'>) => `“${name}”: the cones' apexes are ${off} mm apart; put both at the point where the axes meet`,
  },
  'axes-coincide': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) => `“${name}”: both gears turn about the same line; move one axis to the working distance`,
  },
  'axes-meet': {
    severity: 'fault',
    step: 'layout',
    says: ({ name, due }: Said<'name' | 'due'>) => `“${name}”: the axes meet; set them ${due} mm apart`,
  },
  'axes-not-crossed': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) => `“${name}”: the axes of worm and wheel are parallel; they must cross`,
  },
  'thread-along-wheel': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) =>
      `“${name}”: at this angle between the axes the thread runs along the way of the wheel’s teeth and does not move it; turn an axis, or take the other hand`,
  },
  'axes-not-parallel': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) => `“${name}”: the wheels' axes are not parallel; set them parallel`,
  },
  'axes-not-parallel/gears': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) =>
      `“${name}”: the axes are not parallel, so these cannot be a cylindrical pair; turn one, or couple them as bevel or crossed gears`,
  },
  'axes-not-parallel/wheels': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) => `“${name}”: wheels that roll on each other need parallel axes`,
  },
  'axes-parallel': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) => `“${name}”: the axes are parallel; bevel gears need axes that meet at an angle`,
  },
  'axes-parallel/crossed': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) => `“${name}”: the axes are parallel; couple these as a gear pair`,
  },
  'axis-not-square': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) => `“${name}”: the gear’s axis and the rack’s face must be parallel`,
  },
  'axis-not-square/track': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) => `“${name}”: the wheel's axis must stand across the track`,
  },
  'axis-not-square/curve': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) => `“${name}”: the wheel's axis must lie along the running face of the track and point to the middle of its curve`,
  },
  'beside-track': {
    severity: 'caution',
    step: 'layout',
    says: ({ name, off }: Said<'name' | 'off'>) => `“${name}”: the wheel stands ${off} mm beside the middle of the track and rolls on nothing`,
  },
  'askew-in-curve': {
    severity: 'caution',
    step: 'layout',
    says: ({ name, angle }: Said<'name' | 'angle'>) =>
      `“${name}”: the wheel stands ${angle}° askew in the curve and slides sideways as it rolls, with a friction that is not computed; an axis through the middle of the curve does not`,
  },
  'belt-cannot-lie': {
    severity: 'caution',
    step: 'layout',
    field: 'outside',
    says: ({ name }: Said<'name'>) =>
      `“${name}” cannot run round its wheels in this order with these sides: list them in the order of the run, and name those on which it bears from outside`,
  },
  'belt-not-whole': {
    severity: 'note',
    step: 'layout',
    says: ({ name, count, words, below, above }: Said<'name' | 'count' | 'words' | 'below' | 'above'>) =>
      `“${name}” would have ${count} ${words}: a whole number is ${below}, or ${above}`,
  },
  'chain-odd': {
    severity: 'note',
    step: 'layout',
    says: ({ name, count, below, above }: Said<'name' | 'count' | 'below' | 'above'>) =>
      `“${name}” has ${count} links; an odd number needs a cranked link, even ones are ${below}, or ${above}`,
  },
  'belt-out-of-line': {
    severity: 'caution',
    step: 'layout',
    field: 'at',
    cures: ['into-line'],
    says: ({ name, element, off, word }: Said<'name' | 'element' | 'off' | 'word'>) =>
      `“${name}”: “${element}” stands ${off} mm out of the ${word}'s plane; move it along its shaft`,
  },
  'cone-angle': {
    severity: 'fault',
    step: 'layout',
    field: 'coneAngle',
    cures: ['cone-angles'],
    says: ({ name, element, given, sigma, due }: Said<'name' | 'element' | 'given' | 'sigma' | 'due'>) =>
      `“${name}”: the pitch cone angle of “${element}” is ${given}°; axes at ${sigma}° with these tooth counts need ${due}°`,
  },
  'faces-apart': {
    severity: 'fault',
    step: 'layout',
    says: ({ name, lift }: Said<'name' | 'lift'>) => `“${name}”: the two faces do not overlap along the axis; they are ${lift} mm apart`,
  },
  'faces-apart/part': {
    severity: 'caution',
    step: 'layout',
    field: 'at',
    says: ({ name, common, least }: Said<'name' | 'common' | 'least'>) =>
      `“${name}”: of ${least} mm of face only ${common} mm bear on each other: move one of them along its shaft`,
  },
  'follower-off-cam': {
    severity: 'caution',
    step: 'layout',
    field: 'distance',
    says: ({ name, to, distance }: Said<'name' | 'to' | 'distance'>) =>
      `“${name}”: the pivot is ${to} mm from the cam’s axis and the cam is made for ${distance} mm`,
  },
  'follower-off-cam/trace': {
    severity: 'caution',
    step: 'layout',
    field: 'at',
    says: ({ name, off, due, due2 }: Said<'name' | 'off' | 'due' | 'due2'>) =>
      `“${name}”: the follower stands ${off} mm from where the cam holds it (${due} mm out and ${due2} mm to the side of the cam’s axis)`,
  },
  'internal-crossed': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) => `“${name}”: internal gears cannot run on crossed axes; use external ones`,
  },
  'not-coaxial': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) => `“${name}”: screw and nut are not on one axis; put the nut on the screw's line`,
  },
  'not-touching': {
    severity: 'caution',
    step: 'layout',
    says: ({ name, gap, due }: Said<'name' | 'gap' | 'due'>) => `“${name}”: the wheel's axis is ${gap} mm away and would touch at ${due} mm`,
  },
  'open-mesh': {
    severity: 'caution',
    step: 'layout',
    cures: ['ring-that-fits', 'working-distance'],
    says: ({ name, distance, due }: Said<'name' | 'distance' | 'due'>) =>
      `“${name}”: open mesh, the axes are ${distance} mm apart and would be ${due} mm without play`,
  },
  'open-mesh/rack': {
    severity: 'caution',
    step: 'layout',
    cures: ['working-distance'],
    says: ({ name, height, due }: Said<'name' | 'height' | 'due'>) =>
      `“${name}”: open mesh, the axis stands ${height} mm off the rack’s reference line and would stand ${due} mm without play`,
  },
  'phase-loop': {
    severity: 'fault',
    step: 'layout',
    says: ({ name, add, word }: Said<'name' | 'add' | 'word'>) =>
      `“${name}” closes a loop of meshes in which teeth cannot all stand in spaces: it is off by ${add}${word}; change a tooth count or an angle of the loop`,
  },
  'phase-off': {
    severity: 'caution',
    step: 'layout',
    field: 'phase',
    cures: ['phase'],
    says: ({ name, word, element, add, word2 }: Said<'name' | 'word' | 'element' | 'add' | 'word2'>) =>
      `“${name}”: teeth do not stand in spaces; ${word} “${element}” by ${add}${word2}`,
  },
  'rack-faces-away': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) => `“${name}”: the rack’s teeth face away from the gear; turn the rack round`,
  },
  'teeth-overlap': {
    severity: 'caution',
    step: 'layout',
    field: 'phase',
    cures: ['phase'],
    says: ({ name, area }: Said<'name' | 'area'>) =>
      `“${name}”: the profiles enter each other by ${area} mm² at this pose; set the phase, or the working distance`,
  },
  'tight-mesh': {
    severity: 'fault',
    step: 'layout',
    cures: ['ring-that-fits', 'working-distance'],
    says: ({ name, distance, workingDistance }: Said<'name' | 'distance' | 'workingDistance'>) =>
      `“${name}”: tight mesh, the axes are ${distance} mm apart and need ${workingDistance} mm; the teeth run into each other`,
  },
  'tight-at-limits': {
    severity: 'caution',
    step: 'layout',
    field: 'distanceTolerance',
    says: ({ name, play }: Said<'name' | 'play'>) =>
      `“${name}”: with the thickest teeth at the least distance the backlash is ${play}, so the teeth may jam: choose thinner teeth, or a smaller tolerance of the distance`,
  },
  'tight-mesh/rack': {
    severity: 'fault',
    step: 'layout',
    cures: ['working-distance'],
    says: ({ name, height, due }: Said<'name' | 'height' | 'due'>) =>
      `“${name}”: tight mesh, the axis stands ${height} mm off the rack’s reference line and needs ${due} mm`,
  },
  'too-close': {
    severity: 'fault',
    step: 'layout',
    cures: ['ring-that-fits', 'working-distance'],
    says: ({ name, distance, workingDistance }: Said<'name' | 'distance' | 'workingDistance'>) =>
      `“${name}”: the axes are ${distance} mm apart, nearer than the base circles allow; the working distance is ${workingDistance} mm`,
  },
  'too-far-apart': {
    severity: 'fault',
    step: 'layout',
    cures: ['ring-that-fits', 'working-distance'],
    says: ({ name, distance, due }: Said<'name' | 'distance' | 'due'>) =>
      `“${name}”: open mesh, the axes are ${distance} mm apart and would be ${due} mm without play; the teeth do not reach each other`,
  },
  'too-far-apart/rack': {
    severity: 'fault',
    step: 'layout',
    cures: ['working-distance'],
    says: ({ name, height, due }: Said<'name' | 'height' | 'due'>) =>
      `“${name}”: open mesh, the axis stands ${height} mm off the rack’s reference line and would stand ${due} mm without play; the teeth do not reach each other`,
  },
  'wheels-overlap': {
    severity: 'fault',
    step: 'layout',
    says: ({ name, element }: Said<'name' | 'element'>) =>
      `“${name}”: “${element}” and the next wheel are too near for a strand between them; move them apart`,
  },
  'out-of-engagement': {
    severity: 'fault',
    step: 'layout',
    says: ({ name, what }: Said<'name' | 'what'>) =>
      `“${name}”: ${what} is out of engagement in the reference position; turn or move it until it meshes`,
  },
  'bodies-overlap': {
    severity: 'caution',
    step: 'layout',
    cures: ['allow-overlap'],
    says: ({ name, name2, element, element2, depth, at }: Said<'name' | 'name2' | 'element' | 'element2' | 'depth' | 'at'>) =>
      `${name} and ${name2} overlap: “${element}” and “${element2}” share a space ${depth} mm thick at ${at}`,
  },
  'bodies-overlap/undecided': {
    severity: 'note',
    step: 'layout',
    cures: ['allow-overlap'],
    says: ({ name, name2, element, element2, depth, at }: Said<'name' | 'name2' | 'element' | 'element2' | 'depth' | 'at'>) =>
      `${name} and ${name2} may overlap by up to ${depth} mm at ${at}: “${element}” and “${element2}” lie too close to tell`,
  },
  'rope-along-drum': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) => `“${name}” would leave its drum along the drum’s axis: move the drum or the load`,
  },
} as const satisfies Record<string, Entry>;
