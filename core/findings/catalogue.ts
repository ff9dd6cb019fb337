import type { Severity } from '../fields/types';

/** The steps of the work, in order. */
export const STEPS = ['duty', 'train', 'layout', 'motion', 'loads', 'release'] as const;
export type Step = (typeof STEPS)[number];

/** Ways out of findings, each worked out in `sizing/cures` when a person asks. */
export type Way =
  | 'about-its-axis'
  | 'alike'
  | 'allow-overlap'
  | 'carry'
  | 'cone-angles'
  | 'drive'
  | 'fasten-support'
  | 'helix'
  | 'home-between-stops'
  | 'into-line'
  | 'phase'
  | 'planets'
  | 'ring-that-fits'
  | 'take-out-coupling'
  | 'take-out-source'
  | 'working-distance';

/** What a sentence is made with. */
export type Said<K extends string> = Readonly<Record<K, string | number>>;

interface Entry {
  severity: Severity;
  /** The step of the work in which it is cured. */
  step: Step;
  /** The field that cures it, where it is the same one always. */
  field?: string;
  cures?: readonly Way[];
  // Each sentence is made with its own words; `finding` holds callers to them.
  says(p: never): string;
}

/**
 * Everything that the checks have to say, known by its code: how bad it is, in which step and field it is cured, in what sentence,
 * and by which ways. Where one thing is said in several ways, the part of the key behind the stroke tells them apart; the code is
 * what stands before it.
 */
export const CATALOGUE = {
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
      `the ${count} planets on “${name}” cannot all be put in where they stand: they go in at multiples of ${step}°, nearest ${angles}${word}`,
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
  'follower-not-pressed': {
    severity: 'caution',
    step: 'loads',
    says: ({ name }: Said<'name'>) =>
      `“${name}”: the follower is held by force, and nothing presses it on the cam here: give it a spring or a weight, or hold it by form`,
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
  'out-of-engagement': {
    severity: 'fault',
    step: 'layout',
    says: ({ name, what }: Said<'name' | 'what'>) =>
      `“${name}”: ${what} is out of engagement in the reference position; turn or move it until it meshes`,
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
  'bodies-overlap': {
    severity: 'caution',
    step: 'layout',
    cures: ['allow-overlap'],
    says: ({ name, name2, element, element2, depth, at }: Said<'name' | 'name2' | 'element' | 'element2' | 'depth' | 'at'>) =>
      `${name} and ${name2} overlap: “${element}” and “${element2}” share a space ${depth} mm thick at ${at}`,
  },
  'stop-pair-several': {
    severity: 'caution',
    step: 'motion',
    says: ({ name, name2, count }: Said<'name' | 'name2' | 'count'>) =>
      Number(count) === 0
        ? `${name} and ${name2} cannot stop each other: they do not move against each other`
        : `${name} and ${name2} do not stop each other: ${count} freedoms move them against each other, and only one may`,
  },
  'bodies-overlap/undecided': {
    severity: 'note',
    step: 'layout',
    cures: ['allow-overlap'],
    says: ({ name, name2, element, element2, depth, at }: Said<'name' | 'name2' | 'element' | 'element2' | 'depth' | 'at'>) =>
      `${name} and ${name2} may overlap by up to ${depth} mm at ${at}: “${element}” and “${element2}” lie too close to tell`,
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
  'rope-needs': {
    severity: 'fault',
    step: 'train',
    says: ({ name, word }: Said<'name' | 'word'>) => `“${name}” needs ${word}: choose one`,
  },
  'rope-needs/slide': { severity: 'fault', step: 'train', says: ({ name }: Said<'name'>) => `“${name}” hoists what slides: choose a sliding joint` },
  'rope-along-drum': {
    severity: 'fault',
    step: 'layout',
    says: ({ name }: Said<'name'>) => `“${name}” would leave its drum along the drum’s axis: move the drum or the load`,
  },
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
  'rope-slack': {
    severity: 'caution',
    step: 'loads',
    says: ({ name, force }: Said<'name' | 'force'>) => `“${name}” would have to push with ${force} N: a rope only pulls, so it goes slack`,
  },
  'drum-narrow': {
    severity: 'fault',
    step: 'train',
    says: ({ width, rope }: Said<'width' | 'rope'>) => `a drum ${width} mm wide holds no turn of a rope of ${rope} mm`,
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

export type Key = keyof typeof CATALOGUE;
type CodeOf<K extends string> = K extends `${infer C}/${string}` ? C : K;
/** Code of a finding. */
export type Code = CodeOf<Key>;
export type SaidWith<K extends Key> = Parameters<(typeof CATALOGUE)[K]['says']>[0];
