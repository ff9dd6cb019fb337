import type { Entry, Said } from './entry';

/** Findings that are cured on Train. */
export const TRAIN = {
  'amount-zero': { severity: 'fault', step: 'train', says: ({ name }: Said<'name'>) => `“${name}”: both amounts must be more than zero` },
  'axis-along-rack': {
    severity: 'fault',
    step: 'train',
    says: ({ name }: Said<'name'>) => `“${name}”: the gear’s axis must stand across the rack’s pitch line`,
  },
  'belt-form': {
    severity: 'fault',
    step: 'train',
    field: 'form',
    says: ({ name, form, word, wanted }: Said<'name' | 'form' | 'word' | 'wanted'>) =>
      `“${name}”: a ${form} wheel does not suit a ${word}; use ${wanted}`,
  },
  'belt-form/toothed': {
    severity: 'fault',
    step: 'train',
    field: 'form',
    says: ({ name }: Said<'name'>) => `“${name}”: a toothed belt needs toothed wheels inside its loop`,
  },
  'belt-one-wheel': { severity: 'fault', step: 'train', field: 'wheels', says: ({ name }: Said<'name'>) => `“${name}” needs at least two wheels` },
  'bore-too-large': {
    severity: 'fault',
    step: 'train',
    field: 'bore',
    says: ({ element, bore, rootRadius }: Said<'element' | 'bore' | 'rootRadius'>) =>
      `“${element}”: the bore of ${bore} mm reaches the tooth roots at ${rootRadius} mm: make it smaller`,
  },
  'bore-too-large/body': {
    severity: 'fault',
    step: 'train',
    field: 'bore',
    says: ({ element, what, size, most }: Said<'element' | 'what' | 'size' | 'most'>) =>
      `“${element}”: ${what} of ${size} mm leaves nothing of its body, which has ${most} mm there: make it smaller`,
  },
  'keyway-size': {
    severity: 'caution',
    step: 'train',
    field: 'keyway',
    says: ({ element, bore, table }: Said<'element' | 'bore' | 'table'>) =>
      `“${element}”: ${table} has no keyway for a bore of ${bore} mm, and it is made without one: another bore, or none`,
  },
  'curve-too-tight': {
    severity: 'fault',
    step: 'train',
    field: 'curve',
    says: ({ element, least }: Said<'element' | 'least'>) =>
      `“${element}”: the track is wider than its curve: a radius of more than ${least} mm, or a narrower track`,
  },
  'track-too-long': {
    severity: 'fault',
    step: 'train',
    field: 'length',
    says: ({ element, round }: Said<'element' | 'round'>) => `“${element}”: once round its curve are ${round} mm, and it is longer than that`,
  },
  'rim-too-small': {
    severity: 'fault',
    step: 'train',
    field: 'rim',
    says: ({ element, size, least }: Said<'element' | 'size' | 'least'>) =>
      `“${element}”: its rim of ${size} mm lies inside the roots of its teeth at ${least} mm: make it larger`,
  },
  'ratchet-size': {
    severity: 'fault',
    step: 'train',
    field: 'diameter',
    says: ({ element }: Said<'element'>) => `“${element}”: needs an outside diameter or a module: state one`,
  },
  'ratchet-lets-go': {
    severity: 'caution',
    step: 'train',
    field: 'faceAngle',
    says: ({ name, angle, most }: Said<'name' | 'angle' | 'most'>) =>
      `“${name}”: faces that lean back by ${angle}° push the pawl out under load where friction holds ${most}°: make them radial or hooked, unless it is meant to let go`,
  },
  'tooth-thickness': {
    severity: 'fault',
    step: 'train',
    says: ({ element, why }: Said<'element' | 'why'>) => `“${element}”: the limits of its tooth thickness: ${why}`,
  },
  'no-tooth': {
    severity: 'fault',
    step: 'train',
    says: ({ element, why }: Said<'element' | 'why'>) => `“${element}”: nothing is left of its teeth: ${why}`,
  },
  'height-too-small': {
    severity: 'fault',
    step: 'train',
    field: 'height',
    says: ({ element, size, least }: Said<'element' | 'size' | 'least'>) =>
      `“${element}”: a height of ${size} mm ends inside its tooth spaces, which are ${least} mm deep from the reference line: make it larger`,
  },
  'bore-too-large/rod': {
    severity: 'fault',
    step: 'train',
    field: 'bore',
    says: ({ element }: Said<'element'>) => `“${element}”: the bore is as large as the bar: make it smaller`,
  },
  'bore-too-large/screw': {
    severity: 'fault',
    step: 'train',
    field: 'outside',
    says: ({ element }: Said<'element'>) => `“${element}”: the thread is as large as the nut: make the outside diameter larger`,
  },
  'both-internal': {
    severity: 'fault',
    step: 'train',
    field: 'b',
    says: ({ name }: Said<'name'>) => `“${name}”: two internal gears cannot mesh; make one of them external`,
  },
  'cam-motion': {
    severity: 'fault',
    step: 'train',
    field: 'segments',
    says: ({ element, problem }: Said<'element' | 'problem'>) => `“${element}”: ${problem}`,
  },
  'cam-pressure-angle': {
    severity: 'caution',
    step: 'train',
    field: 'base',
    says: ({ element, pressureAngle, pressureAt, limit }: Said<'element' | 'pressureAngle' | 'pressureAt' | 'limit'>) =>
      `“${element}”: pressure angle of ${pressureAngle}° at a cam angle of ${pressureAt}°, over ${limit}° (common practice): enlarge the base circle or the angle of the rise`,
  },
  'cam-undercut': {
    severity: 'fault',
    step: 'train',
    field: 'base',
    says: ({ element, undercut, word }: Said<'element' | 'undercut' | 'word'>) =>
      `“${element}”: undercut at a cam angle of ${undercut}°: the follower cannot reach this profile; enlarge the base circle${word}`,
  },
  'carriers-in-a-ring': {
    severity: 'fault',
    step: 'train',
    cures: ['carry'],
    says: ({ member }: Said<'member'>) => `${member} carry each other in a ring and nothing carries them: give one of them a joint to the frame`,
  },
  'coupling-needs-element': {
    severity: 'fault',
    step: 'train',
    field: 'wheels',
    says: ({ name, word, missing }: Said<'name' | 'word' | 'missing'>) => `“${name}” runs over ${word}: its wheel ${missing} is none; choose another`,
  },
  'coupling-needs-element/pair': {
    severity: 'fault',
    step: 'train',
    says: ({ name, wanted, word }: Said<'name' | 'wanted' | 'word'>) => `“${name}” needs a ${wanted} as its ${word} element: choose one`,
  },
  'coupling-needs-joint': { severity: 'fault', step: 'train', says: ({ name, message }: Said<'name' | 'message'>) => `“${name}” ${message}` },
  'coupling-needs-joint/pair': {
    severity: 'fault',
    step: 'train',
    says: ({ name, word }: Said<'name' | 'word'>) => `“${name}” needs two joints that move: choose the ${word} one`,
  },
  'coupling-redundant': {
    severity: 'note',
    step: 'train',
    cures: ['take-out-coupling'],
    says: ({ name, others }: Said<'name' | 'others'>) =>
      `${name} repeats what ${others} say already: the forces round this loop depend on fits and cannot be told apart`,
  },
  'coupling-same-joint': {
    severity: 'fault',
    step: 'train',
    field: 'b',
    says: ({ name }: Said<'name'>) => `“${name}” ties a joint to itself: choose another second joint`,
  },
  'coupling-same-member': {
    severity: 'fault',
    step: 'train',
    field: 'wheels',
    says: ({ name }: Said<'name'>) =>
      `“${name}” runs over two wheels of one member, which cannot move against each other; choose wheels of different members`,
  },
  'coupling-same-member/pair': {
    severity: 'fault',
    step: 'train',
    field: 'b',
    says: ({ element, element2, member }: Said<'element' | 'element2' | 'member'>) =>
      `“${element}” and “${element2}” are both on ${member} and cannot move against each other: put one on another member`,
  },
  'couplings-contradict': {
    severity: 'fault',
    step: 'train',
    cures: ['take-out-coupling'],
    says: ({ names, ratio }: Said<'names' | 'ratio'>) =>
      `${names} cannot all hold: round this loop the ratio is ${ratio}, not 1, so nothing in it can turn; change a tooth count or take one coupling out`,
  },
  'couplings-contradict/locked': {
    severity: 'fault',
    step: 'train',
    cures: ['take-out-coupling'],
    says: ({ name }: Said<'name'>) => `${name} ties members that cannot move, so it locks them; take it out or free one of them`,
  },
  'couplings-contradict/loop': {
    severity: 'fault',
    step: 'train',
    cures: ['take-out-coupling'],
    says: ({ names }: Said<'names'>) =>
      `${names} cannot all hold: together they leave nothing in this loop free to turn; change a tooth count or take one coupling out`,
  },
  'element-member-missing': {
    severity: 'fault',
    step: 'train',
    field: 'member',
    says: ({ element }: Said<'element'>) => `“${element}” is on a member that the design does not have: choose another`,
  },
  'equal-internal': {
    severity: 'fault',
    step: 'train',
    field: 'teeth',
    says: ({ name }: Said<'name'>) => `“${name}”: a gear and a ring of equal tooth counts have no pitch point; change one count`,
  },
  'face-too-wide': {
    severity: 'fault',
    step: 'train',
    field: 'width',
    says: ({ name, cone }: Said<'name' | 'cone'>) => `“${name}”: the face is wider than the cone is long (${cone} mm); make it narrower`,
  },
  'face-too-wide/gear': {
    severity: 'fault',
    step: 'train',
    field: 'width',
    says: ({ element }: Said<'element'>) => `“${element}”: the face is wider than the cone is long: make it narrower`,
  },
  'few-teeth-difference': {
    severity: 'caution',
    step: 'train',
    says: ({ name }: Said<'name'>) => `“${name}”: with fewer than about eight teeth of difference the tips of an internal pair may foul`,
  },
  'follower-axis': {
    severity: 'fault',
    step: 'train',
    says: ({ name }: Said<'name'>) => `“${name}”: the follower does not move in the plane of the cam; set its joint square to it`,
  },
  'follower-joint': {
    severity: 'fault',
    step: 'train',
    field: 'carries',
    says: ({ name, motion, member, word }: Said<'name' | 'motion' | 'member' | 'word'>) =>
      `“${name}”: the cam is made for a ${motion} follower, and ${member} ${word} its joint; change the joint or the cam`,
  },
  'follower-pivot': {
    severity: 'fault',
    step: 'train',
    says: ({ name }: Said<'name'>) => `“${name}”: the follower’s pivot lies on the cam’s axis; move it`,
  },
  'freedom-undriven': {
    severity: 'caution',
    step: 'train',
    cures: ['drive'],
    says: ({ names }: Said<'names'>) => `${names} can move and nothing drives it: give it a source, a coupling, or a fixed joint`,
  },
  'freedom-undriven/together': {
    severity: 'caution',
    step: 'train',
    cures: ['drive'],
    says: ({ names }: Said<'names'>) =>
      `${names} move together and nothing drives them: give one of them a source, or couple them to a member that is driven`,
  },
  'helix-differs': {
    severity: 'fault',
    step: 'train',
    field: 'helix',
    cures: ['helix'],
    says: ({ name, off, angle }: Said<'name' | 'off' | 'angle'>) =>
      `“${name}”: the tooth lines are ${off}° apart at the pitch point; the helix angles must add up to the angle between the axes (${angle}°)`,
  },
  'helix-differs/external': {
    severity: 'fault',
    step: 'train',
    field: 'helix',
    cures: ['helix'],
    says: ({ name }: Said<'name'>) => `“${name}”: external gears on parallel axes need equal helix angles of opposite hands`,
  },
  'helix-differs/internal': {
    severity: 'fault',
    step: 'train',
    field: 'helix',
    cures: ['helix'],
    says: ({ name }: Said<'name'>) => `“${name}”: an internal pair on parallel axes needs equal helix angles of the same hand`,
  },
  'helix-differs/rack': {
    severity: 'fault',
    step: 'train',
    field: 'helix',
    cures: ['helix'],
    says: ({ name }: Said<'name'>) =>
      `“${name}”: the teeth of gear and rack do not lie along each other: they need equal helix angles, of opposite hand`,
  },
  'internal-interference': {
    severity: 'caution',
    step: 'train',
    field: 'tipCut',
    says: ({ name, teeth }: Said<'name' | 'teeth'>) =>
      `“${name}”: the ring’s tips reach below the involute of the ${teeth}-tooth wheel and foul its roots; shorten the ring’s tips or use more teeth`,
  },
  'internal-on-rack': {
    severity: 'fault',
    step: 'train',
    field: 'a',
    says: ({ name }: Said<'name'>) => `“${name}”: an internal gear cannot run on a rack; choose an external one`,
  },
  'inertia-impossible': {
    severity: 'fault',
    step: 'train',
    field: 'inertia',
    says: ({ member, most, rest }: Said<'member' | 'most' | 'rest'>) =>
      `“${member}”: no body has these moments of inertia: ${most} kg·m² is more than the other two together (${rest}): correct them`,
  },
  'inertia-impossible/products': {
    severity: 'fault',
    step: 'train',
    field: 'inertiaProducts',
    says: ({ member }: Said<'member'>) => `“${member}”: no body has these products beside these moments of inertia: correct them`,
  },
  'mass-without-inertia': {
    severity: 'caution',
    step: 'train',
    field: 'inertia',
    says: ({ member }: Said<'member'>) =>
      `“${member}” turns and has a stated mass but no moments of inertia, so that speeding it up takes nothing: state its moments of inertia, or give it an element`,
  },
  'no-motion': {
    severity: 'fault',
    step: 'train',
    says: ({ names }: Said<'names'>) =>
      `no motion possible: the joints leave no degree of freedom, so ${names} cannot move; take a joint or a coupling out`,
  },
  'freedom-massless': {
    severity: 'note',
    step: 'train',
    field: 'mass',
    says: ({ names }: Said<'names'>) => `${names} can move freely and has no mass: state a mass, or give it an element, before it runs freely`,
  },
  'bearing-size': {
    severity: 'fault',
    step: 'train',
    field: 'bearings',
    says: ({ name, row }: Said<'name' | 'row'>) => `“${name}”: the inner diameter of bearing ${row} is as large as its outer one: correct them`,
  },
  'joint-member-missing': {
    severity: 'fault',
    step: 'train',
    says: ({ name, word }: Said<'name' | 'word'>) => `joint “${name}” names a member that the design does not have: choose ${word}`,
  },
  'joint-same-member': {
    severity: 'fault',
    step: 'train',
    field: 'parent',
    says: ({ name, member }: Said<'name' | 'member'>) => `joint “${name}” carries ${member} on itself: choose another carrying member`,
  },
  'low-contact-ratio': {
    severity: 'caution',
    step: 'train',
    says: ({ name, ratio }: Said<'name' | 'ratio'>) =>
      `“${name}”: contact ratio ${ratio} is under 1.2, so the drive runs roughly from tooth to tooth`,
  },
  'low-contact-ratio/lost': {
    severity: 'fault',
    step: 'train',
    says: ({ name, ratio }: Said<'name' | 'ratio'>) =>
      `“${name}”: contact ratio ${ratio} is under 1: one pair of teeth parts before the next one meets; use more teeth, taller tips or another distance`,
  },
  'tip-on-root': {
    severity: 'fault',
    step: 'train',
    field: 'tipCut',
    says: ({ element, element2, by }: Said<'element' | 'element2' | 'by'>) =>
      `the tips of “${element}” run ${by} mm into the bottom of the spaces of “${element2}”: move them apart, shorten the tips or deepen the spaces`,
  },
  'tip-in-fillet': {
    severity: 'caution',
    step: 'train',
    field: 'tipCut',
    says: ({ element, element2, by }: Said<'element' | 'element2' | 'by'>) =>
      `the tips of “${element}” rub on the fillets of “${element2}”, below its involutes: shorten the tips by ${by} mm`,
  },
  'tip-in-fillet/ring': {
    severity: 'note',
    step: 'train',
    field: 'tipCut',
    says: ({ element, element2, by }: Said<'element' | 'element2' | 'by'>) =>
      `the tips of “${element}” reach below the involutes of “${element2}” as a rack leaves them: shorten the tips by ${by} mm, as rings usually are`,
  },
  'tip-in-fillet/root': {
    severity: 'note',
    step: 'train',
    field: 'tipCut',
    says: ({ element, element2, by }: Said<'element' | 'element2' | 'by'>) =>
      `the tips of “${element}” strike the root fillets of “${element2}”: shorten them by ${by} mm, or give the ring a smaller fillet`,
  },
  'trochoid-interference': {
    severity: 'fault',
    step: 'train',
    field: 'teeth',
    says: ({ name }: Said<'name'>) =>
      `“${name}”: tips strike each other beside the mesh: use a larger difference of teeth, shorter tips or more profile shift`,
  },
  'member-not-carried': {
    severity: 'fault',
    step: 'train',
    cures: ['carry'],
    says: ({ member }: Said<'member'>) =>
      `nothing carries “${member}”: give it a joint to the frame or to a member that is carried; until then it stands still`,
  },
  'module-differs': {
    severity: 'fault',
    step: 'train',
    field: 'module',
    cures: ['alike'],
    says: ({ name, a, b }: Said<'name' | 'a' | 'b'>) => `“${name}”: module ${a} mm meets module ${b} mm; give both the same`,
  },
  'module-differs/worm': {
    severity: 'fault',
    step: 'train',
    field: 'module',
    cures: ['alike'],
    says: ({ name, module, wheel }: Said<'name' | 'module' | 'wheel'>) =>
      `“${name}”: the worm needs a wheel of module ${module} mm and meets one of ${wheel} mm; give the wheel what it needs`,
  },
  'no-common-carrier': {
    severity: 'fault',
    step: 'train',
    says: ({ name, member, member2 }: Said<'name' | 'member' | 'member2'>) =>
      `no member carries both axes of “${name}”: ${member} and ${member2} would need joints along these axes on one and the same member`,
  },
  'no-root': {
    severity: 'fault',
    step: 'train',
    field: 'dedendum',
    says: ({ element }: Said<'element'>) => `“${element}”: the root circle has no size left: use more teeth or a smaller dedendum`,
  },
  'pitch-differs': {
    severity: 'fault',
    step: 'train',
    field: 'pitch',
    cures: ['alike'],
    says: ({ name, pitches }: Said<'name' | 'pitches'>) => `“${name}”: pitches of ${pitches} do not run together; give all wheels the same`,
  },
  'pitch-too-large': {
    severity: 'fault',
    step: 'train',
    field: 'pitch',
    says: ({ element }: Said<'element'>) => `“${element}”: the pitch leaves no core: use a smaller pitch or a larger diameter`,
  },
  'planets-do-not-assemble': {
    severity: 'fault',
    step: 'train',
    field: 'teeth',
    cures: ['planets'],
    says: ({ count, name, step, angles, word }: Said<'count' | 'name' | 'step' | 'angles' | 'word'>) =>
      `the ${count} planets on “${name}” cannot all be assembled where they stand: they fit at multiples of ${step}°, nearest ${angles}${word}`,
  },
  'pointed-tip': {
    severity: 'caution',
    step: 'train',
    field: 'shift',
    says: ({ element }: Said<'element'>) => `“${element}”: the flanks meet before the tip circle: use less profile shift or shorten the tip`,
  },
  'pressure-angle-differs': {
    severity: 'fault',
    step: 'train',
    field: 'pressureAngle',
    cures: ['alike'],
    says: ({ name, a, b }: Said<'name' | 'a' | 'b'>) => `“${name}”: pressure angles of ${a}° and ${b}° do not run together; give both the same`,
  },
  'pulley-size': { severity: 'fault', step: 'train', says: ({ element }: Said<'element'>) => `“${element}”: teeth and pitch are needed: state both` },
  'pulley-standard': {
    severity: 'fault',
    step: 'train',
    says: ({ element, standard, form }: Said<'element' | 'standard' | 'form'>) => `“${element}”: ${standard} is no form for ${form}: choose another`,
  },
  'pulley-standard/narrow': {
    severity: 'fault',
    step: 'train',
    says: ({ element, standard, least }: Said<'element' | 'standard' | 'least'>) =>
      `“${element}”: a groove ${standard} takes a width of ${least} mm: make it wider`,
  },
  'pulley-standard/small': {
    severity: 'fault',
    step: 'train',
    says: ({ element, standard, least }: Said<'element' | 'standard' | 'least'>) =>
      `“${element}”: grooves ${standard} take ${least} mm of its diameter: make it larger`,
  },
  'pulley-standard/angle': {
    severity: 'fault',
    step: 'train',
    says: ({ element, standard, angle }: Said<'element' | 'standard' | 'angle'>) =>
      `“${element}”: flanks ${angle}° apart meet before the floor of a groove ${standard}: take a smaller angle`,
  },
  'pulley-standard/pitch': {
    severity: 'fault',
    step: 'train',
    says: ({ element, standard, band, pitch }: Said<'element' | 'standard' | 'band' | 'pitch'>) =>
      `“${element}”: ${standard} has no ${band} of ${pitch} mm pitch: take one of its pitches, or the general form`,
  },
  'pulley-standard/teeth': {
    severity: 'fault',
    step: 'train',
    says: ({ element, standard }: Said<'element' | 'standard'>) =>
      `“${element}”: with so few teeth the flanks of ${standard} meet below their tips: take more, or the general form`,
  },
  'pulley-size/diameter': {
    severity: 'fault',
    step: 'train',
    field: 'diameter',
    says: ({ element }: Said<'element'>) => `“${element}”: its pitch diameter is missing: state it`,
  },
  'screw-fixed': {
    severity: 'fault',
    step: 'train',
    says: ({ name }: Said<'name'>) => `“${name}”: neither screw nor nut can turn or travel; give them joints along the axis`,
  },
  'thread-without-diameter': {
    severity: 'fault',
    step: 'train',
    field: 'diameter',
    says: ({ name }: Said<'name'>) => `“${name}”: its thread rubs, but how depends on the pitch diameter; state it`,
  },
  'screw-jams': {
    severity: 'fault',
    step: 'train',
    field: 'friction',
    says: ({ name }: Said<'name'>) => `“${name}”: with this friction and lead angle the screw jams; lower the friction or the lead`,
  },
  'stands-because': {
    severity: 'note',
    step: 'train',
    says: ({ names }: Said<'names'>) => `${names}: stands still because of the couplings above that contradict each other; nothing is wrong with it`,
  },
  'sector-arc': {
    severity: 'fault',
    step: 'train',
    field: 'arcTeeth',
    says: ({ element, arcTeeth, teeth }: Said<'element' | 'arcTeeth' | 'teeth'>) =>
      `“${element}”: ${arcTeeth} teeth are more than the ${teeth} of the whole circle: state fewer`,
  },
  'self-locking': {
    severity: 'note',
    step: 'train',
    says: ({ name }: Said<'name'>) => `“${name}” is self-locking: a load along the axis cannot turn it`,
  },
  'self-locking/worm': {
    severity: 'note',
    step: 'train',
    says: ({ name }: Said<'name'>) =>
      `“${name}” is self-locking: the wheel cannot drive the worm, and a load on the wheel is held without torque on the worm`,
  },
  'support-left-free': {
    severity: 'caution',
    step: 'train',
    cures: ['fasten-support'],
    says: ({ member, support }: Said<'member' | 'support'>) =>
      `${member} carries the axes of “${support}” and is itself left free, so it can turn where the driven wheel should: fasten it to the frame, or drive it`,
  },
  'tip-inside-base': {
    severity: 'caution',
    step: 'train',
    field: 'teeth',
    says: ({ element }: Said<'element'>) =>
      `“${element}”: the tips reach inside the base circle: the flank there is not an involute; use more teeth or a tip shortening`,
  },
  undercut: {
    severity: 'note',
    step: 'train',
    field: 'shift',
    says: ({ element, teeth, limit }: Said<'element' | 'teeth' | 'limit'>) =>
      `“${element}”: a rack cutter undercuts ${teeth} teeth; from ${limit} teeth up, or with a larger profile shift, it does not`,
  },
  'few-teeth/chain': {
    severity: 'note',
    step: 'train',
    field: 'teeth',
    says: ({ element, teeth, few, swing }: Said<'element' | 'teeth' | 'few' | 'swing'>) =>
      `“${element}” has ${teeth} teeth: below ${few} a chain runs roughly, its speed swings by ${swing} % with every tooth`,
  },
  'few-teeth/belt': {
    severity: 'note',
    step: 'train',
    field: 'teeth',
    says: ({ element, teeth, few }: Said<'element' | 'teeth' | 'few'>) =>
      `“${element}” has ${teeth} teeth: below ${few} a toothed belt is bent sharply; see what its maker allows`,
  },
  'rope-needs': {
    severity: 'fault',
    step: 'train',
    says: ({ name, word }: Said<'name' | 'word'>) => `“${name}” needs ${word}: choose one`,
  },
  'rope-needs/slide': { severity: 'fault', step: 'train', says: ({ name }: Said<'name'>) => `“${name}” hoists what slides: choose a sliding joint` },
  'rope-layer': {
    severity: 'caution',
    step: 'train',
    says: ({ name, layer, layers }: Said<'name' | 'layer' | 'layers'>) => `“${name}” runs on layer ${layer}, and the drum has room for ${layers}`,
  },
  'rope-too-long': {
    severity: 'caution',
    step: 'train',
    says: ({ name, wound, capacity }: Said<'name' | 'wound' | 'capacity'>) => `“${name}” has ${wound} turns on a drum that holds ${capacity}`,
  },
  'drum-narrow': {
    severity: 'fault',
    step: 'train',
    says: ({ width, rope }: Said<'width' | 'rope'>) => `a drum ${width} mm wide holds no turn of a rope of ${rope} mm`,
  },
} as const satisfies Record<string, Entry>;
