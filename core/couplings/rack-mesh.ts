import { finding } from '../findings/index';
import type { Stated } from '../fields/fields';
import type { Coupling, Finding } from '../fields/types';
import { type Gear, type Rack, type Sector, exactOf, gearOf, num, rackOf, thicknessOf, toothLimits } from '../elements/index';
import { exactly, mul, neg, piRatio, ratio } from '../math/index';
import { cross, dot, norm, vadd, vscale, vsub } from '../math/index';
import { type RackGiven, basePitch, isUndercut, rackContactLine } from '../teeth/index';
import { limitsDerived } from './gear-pair/backlash';
import { contactRatioFindings, limitFindings } from './gear-pair/findings';
import {
  DISTANCE_TOLERANCE_FIELD,
  EFFICIENCY_FIELD,
  FACE_LOAD_FIELD,
  TRANSMISSION_ERROR_FIELD,
  type Placed,
  acrossAxis,
  faceEngagement,
  travelPorts,
  commonFace,
  faceFindings,
  efficiencyOf,
  fold,
  noCarrier,
  pairFields,
  pairOf,
  say,
  moduleFinding,
  pressureAngleFinding,
} from './common';
import type { CouplingKind, Engagement, Port } from './protocol';
import { sectorEngagement } from './sector-mesh/engagement';

const DEG = 180 / Math.PI;

/** How far below its reference line the straight flanks of a rack reach, mm: to where the fillet begins. */
const rackFillet = (k: RackGiven): number => (k.dedendum - k.fillet * (1 - Math.sin(k.alpha))) * k.module;

const FIELDS = [...pairFields('Gear or sector', 'Rack'), DISTANCE_TOLERANCE_FIELD, EFFICIENCY_FIELD, FACE_LOAD_FIELD, TRANSMISSION_ERROR_FIELD];
/** What is stated of one, from its fields. */
export type RackMesh = Coupling & Stated<typeof FIELDS>;

const TAKES = [['gear', 'sector'], ['rack']] as const;

/**
 * A gear on a rack: the travel relative to the carrier is π m z per turn (spur), with the sign that the pitch point gives.
 * The rack may be fixed, slide, or sit in a guide that swivels about the gear's axis: the carrier rule sorts it out.
 */
export const rackMesh: CouplingKind<RackMesh> = {
  type: 'rack-mesh',
  label: 'Rack mesh',
  fields: FIELDS,
  takes: TAKES,
  model(c, ctx) {
    const pair = pairOf<Gear | Sector, Rack>(c, ctx, TAKES);
    if (pair.findings) return { findings: pair.findings };
    const { a, b, ids } = pair;
    const name = c.name ?? c.id;
    const g = gearOf(a.element),
      k = rackOf(b.element);
    const findings: Finding[] = [];
    if (g.internal) {
      return { findings: [finding('internal-on-rack', ids, { name })] };
    }
    if (Math.abs(dot(a.frame.z, b.frame.x)) > 1e-6) {
      return { findings: [finding('axis-along-rack', ids, { name })] };
    }
    if (Math.abs(Math.abs(dot(a.frame.z, b.frame.z)) - 1) > 1e-6) {
      return { findings: [finding('axis-not-square', ids, { name })] };
    }
    findings.push(...moduleFinding(name, ids, g.module, k.module));
    findings.push(...pressureAngleFinding(name, ids, g.alpha, k.alpha));
    const carrier = ctx.carrier(a.member, [a.frame.o, a.frame.z], b.member, [b.frame.o, b.frame.x]);
    const turn = carrier === undefined ? undefined : ctx.turn(a.member, carrier, [a.frame.o, a.frame.z]);
    const travel = carrier === undefined ? undefined : ctx.travel(b.member, carrier, [b.frame.o, b.frame.x]);
    if (carrier === undefined || !turn || !travel) return { findings: [...findings, noCarrier(c, ctx, ids, a.member, b.member)] };

    // Pitch point: from the axis straight towards the rack, one pitch radius.
    const toRack = vscale(b.frame.y, -1);
    const height = dot(vsub(a.frame.o, b.frame.o), b.frame.y);
    const due = g.pitchRadius + g.shift * g.module;
    const lift = dot(vsub(b.frame.o, a.frame.o), a.frame.z) / 2;
    const point = vadd(vadd(a.frame.o, vscale(toRack, g.pitchRadius)), vscale(a.frame.z, lift));
    const along = cross(a.frame.z, toRack);
    const side = Math.sign(dot(along, b.frame.x)) || 1;
    const gap = height - due;
    if (height <= 0) findings.push(finding('rack-faces-away', ids, { name }));
    else if (gap > 1e-4) {
      const beyond = gap > 2.2 * g.module;
      findings.push(finding(beyond ? 'too-far-apart/rack' : 'open-mesh/rack', ids, { name, height: say(height), due: say(due) }));
    } else if (gap < -1e-4) {
      findings.push(finding('tight-mesh/rack', ids, { name, height: say(height), due: say(due) }));
    }
    // Tooth lines at the pitch point: those of the gear from its helix, those
    // of the rack as of a gear beyond it (right hand: they rise against x).
    const lineA = vadd(vscale(a.frame.z, Math.cos(g.beta)), vscale(along, Math.sin(g.beta)));
    const lineB = vadd(vscale(b.frame.z, Math.cos(k.beta)), vscale(b.frame.x, -Math.sin(k.beta)));
    if (norm(cross(lineA, lineB)) > 1e-6) findings.push(finding('helix-differs/rack', ids, { name }));
    const [wa, wb] = [num(a.element.width), num(b.element.width)];
    const common = Math.max(0, commonFace(wa, wb, 2 * lift));
    findings.push(...faceFindings(name, ids, wa, wb, 2 * lift));
    const rubs = rackFillet(k);
    const contact = rackContactLine(g, k.addendum * k.module, rubs, height);
    const epsilon = Math.max(0, contact.length) / basePitch(g) + (common * Math.sin(Math.abs(g.beta))) / (Math.PI * g.module);
    if (height > 0 && gap <= 2.2 * g.module) {
      findings.push(...contactRatioFindings(name, ids, epsilon));
      const said = { element: a.element.name, element2: b.element.name };
      const clearances = [height - g.tipRadius + k.dedendum * k.module, height - k.addendum * k.module - g.rootRadius];
      if (clearances[0] < -1e-6 * g.module) findings.push(finding('tip-on-root', ids, { ...said, by: say(-clearances[0]) }));
      if (clearances[1] < -1e-6 * g.module) {
        findings.push(finding('tip-on-root', ids, { element: said.element2, element2: said.element, by: say(-clearances[1]) }));
      } else if (contact.beyondFirst * Math.sin(g.alphaT) > 1e-3 * g.module && !isUndercut(g)) {
        const by = say(contact.beyondFirst * Math.sin(g.alphaT));
        findings.push(finding('tip-in-fillet', ids, { element: said.element2, element2: said.element, by }));
      }
    }

    // Compared in the section half way between both middles, to which helical teeth have shifted.
    const pitchT = Math.PI * g.moduleT;
    const upA = lift * Math.tan(g.beta),
      upB = lift * dot(a.frame.z, b.frame.z) * Math.tan(k.beta);
    const pitchesA =
      (num(a.element.phase) / DEG - Math.atan2(dot(toRack, a.frame.y), dot(toRack, a.frame.x))) / ((2 * Math.PI) / g.teeth) + upA / pitchT;
    const pitchesB = (side * (num(b.element.phase) + upB + dot(vsub(b.frame.o, point), b.frame.x))) / pitchT;
    const add = fold(pitchesA - 0.5 - pitchesB) * side * pitchT + 0;

    // The pitch point lies among the rack's teeth, which stand evenly to both sides of its middle.
    const middle = dot(vsub(point, b.frame.o), b.frame.x);
    const first = num(b.element.phase) - (Math.floor(k.teeth / 2) + 0.5) * pitchT;
    const teethThere = (motion: Port): Engagement => ({
      motion,
      from: middle - (first + k.teeth * pitchT),
      to: middle - first,
      what: `the rack of ${k.teeth} teeth`,
      enough: (travel) => `${2 * Math.ceil((Math.abs(middle - travel - num(b.element.phase)) + pitchT / 2) / pitchT) + 1} teeth`,
    });

    // Per turn: z pitches of π m / cos β. A spur rack stays exact; a helix angle brings in its cosine as a decimal.
    const spur = g.beta === 0;
    const z = exactly(g.teeth);
    const m = exactOf(spur ? a.element.module : Number(g.moduleT.toPrecision(15)));
    const eta = efficiencyOf(c);
    const perTurn = mul(z, m);
    const playAt = (gap: number, thinning: number): number => 2 * gap * Math.tan(g.alphaT) + thinning / Math.cos(g.beta);
    const play = playAt(gap, g.thinning);
    const tolerance = num(c.distanceTolerance);
    const [teeth, rackTeeth] = [toothLimits(a.element as Gear), thicknessOf(b.element, 0)];
    const limits =
      teeth || rackTeeth || tolerance > 0
        ? ([
            playAt(gap - tolerance, (teeth?.thick ?? g).thinning - num(rackTeeth?.upper)),
            playAt(gap + tolerance, (teeth?.thin ?? g).thinning - num(rackTeeth?.lower)),
          ] as const)
        : undefined;
    findings.push(...limitFindings(name, ids, limits?.[0]));
    const rackPort: Port = { member: b.member, carrier, motion: 'slide', point, axis: b.frame.x, terms: travel, coefficient: piRatio(ratio(-side)) };
    const turning: Port = {
      member: a.member,
      carrier,
      motion: 'turn',
      point: a.frame.o,
      axis: a.frame.z,
      terms: turn,
      coefficient: piRatio(perTurn, 1),
    };
    // Helical teeth that travel along the gear's axis move the other side along the rack.
    const helix = spur ? undefined : exactOf(Number(Math.tan(g.beta).toPrecision(15)));
    return {
      findings,
      model: {
        law: 'proportional',
        ports: [
          turning,
          rackPort,
          ...(helix
            ? [...travelPorts(ctx, carrier, a, a.frame.z, piRatio(neg(helix))), ...travelPorts(ctx, carrier, b, a.frame.z, piRatio(helix))]
            : []),
        ],
        contacts: [{ a: 0, b: 1, point, along: vadd(along, vscale(a.frame.z, -Math.tan(g.beta))), spread: vscale(toRack, -Math.tan(g.alphaT)) }],
        efficiency: { forward: eta, backward: eta },
        engagements: [
          teethThere(rackPort),
          ...(a.element.type === 'sector' ? sectorEngagement(a as Placed<Sector>, toRack, turning) : []),
          ...faceEngagement(ctx, carrier, a, b, [wa, wb], 2 * lift),
        ],
        fit: { member: b.member, by: vscale(b.frame.y, gap) },
        phase: { element: b.element.id, unit: 'mm', add, period: pitchT },
        derived: [
          { key: 'perTurn', label: 'Travel per turn', value: Math.PI * g.moduleT * g.teeth, unit: 'mm', formula: 'π·m·z' },
          { key: 'turnsPerMetre', label: 'Turns per metre', value: 1000 / (Math.PI * g.moduleT * g.teeth), formula: '1000 mm / (π·m·z)' },
          {
            key: 'distance',
            label: 'Axis to reference line',
            value: norm(acrossAxis(a.frame, vadd(b.frame.o, vscale(b.frame.x, dot(vsub(a.frame.o, b.frame.o), b.frame.x))))),
            unit: 'mm',
          },
          { key: 'workingDistance', label: 'Working distance', symbol: 'aw', value: due, unit: 'mm', formula: 'm·z/2 + x·m' },
          { key: 'contactRatio', label: 'Contact ratio', symbol: 'ε', value: epsilon, formula: 'ε = path of contact / base pitch (+ overlap)' },
          { key: 'backlash', label: 'Backlash along the rack', symbol: 'jt', value: play, unit: 'mm', formula: 'jt = 2·Δa·tan αt + thinning' },
          {
            key: 'normalBacklash',
            label: 'Backlash square to the flanks',
            symbol: 'jbn',
            value: play * Math.cos(g.alpha) * Math.cos(g.beta),
            unit: 'mm',
          },
          { key: 'backlashA', label: `Backlash as a turn of ${a.element.name}`, value: (play / g.pitchRadius) * DEG, unit: 'deg', formula: 'jt / r' },
          ...(limits ? limitsDerived(...limits, [limits[0] / g.pitchRadius, limits[1] / g.pitchRadius], a.element.name) : []),
          { key: 'phase', label: 'Shift that puts tooth in space', value: add, unit: 'mm' },
        ],
      },
    };
  },
};
