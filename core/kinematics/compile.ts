import { distancesFromSources } from './reach';
import { finding, elementFinding } from '../findings/index';
import { couplingKind, isNumeric, threadOf, type CouplingContext, type CouplingModel, type Term } from '../couplings/index';
import { Coupling, Design, Element, Id } from '../fields/types';
import { withoutUnstated } from '../document/stated';
import { elementProblems } from '../elements/index';
import { PiRatio, isZero, piAdd, piMul } from '../math/index';
import { Frame, localFrame, within } from '../math/index';
import { LinearRow, eliminate } from './eliminate';
import { faceStops } from './face-stops';
import type { Compiled, CompiledCoupling, CompiledSource, Kinematics } from './compiled';
import { kinematicsOf } from './kinematics';
import { Coordinate, Paths, Structure, structureOf } from './structure';

/** The main coordinate of a joint, or the numbered one in "joint:1". */
export function coordinateOf(s: Structure, ref: unknown): Coordinate | undefined {
  if (typeof ref !== 'string') return undefined;
  const [id, order = '0'] = ref.split(':');
  const first = s.firstOf.get(id);
  const c = first === undefined ? undefined : s.coordinates[first + Number(order)];
  return c && c.joint.id === id ? c : undefined;
}

/** The rows of a coupling: one, but one for each strand but the last of a band. */
const rowsOf = (m: CouplingModel): CouplingModel[] => (m.law === 'band' ? [m, ...(m.more ?? [])] : [m]);

/** The linear row of a coupling: its ports' terms, gathered by coordinate. */
function rowOf(c: Coupling, m: CouplingModel): LinearRow {
  const terms: { coordinate: number; coefficient: PiRatio }[] = [];
  for (const p of m.ports) {
    for (const t of p.terms) {
      const k = piMul(p.coefficient, t.factor);
      const had = terms.find((x) => x.coordinate === t.coordinate && (x.coefficient.pi === k.pi || isZero(x.coefficient.q)));
      const sum = had ? piAdd(had.coefficient, k) : undefined;
      if (had && sum) had.coefficient = sum;
      else terms.push({ coordinate: t.coordinate, coefficient: k });
    }
  }
  return {
    coupling: c.id,
    terms: terms.filter((t) => !isZero(t.coefficient.q)),
    offset: m.law === 'proportional' ? m.offset : undefined,
    numeric: isNumeric(m),
  };
}

/** Checks a document that the schema has passed and turns it into rows: nothing numeric is solved yet, and nothing throws. */
export function compile(document: Design): Compiled {
  const design = withoutUnstated(document);
  const structure = structureOf(design);
  const findings = [...structure.findings];
  const elements = new Map<Id, Element>();
  const elementFrames = new Map<Id, Frame>();
  for (const e of design.elements) {
    elements.set(e.id, e);
    const member = structure.frames.get(e.member);
    if (!member) {
      findings.push(finding('element-member-missing', [e.id], { element: e.name }));
      continue;
    }
    elementFrames.set(e.id, within(member, localFrame(e)));
    for (const p of elementProblems(e)) {
      findings.push(elementFinding(p, e.id, e.name));
    }
  }
  const paths = new Paths(structure);
  const joints = new Map(design.joints.map((j) => [j.id, j]));
  let distances: ReadonlyMap<Id, number> | undefined;
  const context: CouplingContext = {
    element(id) {
      const element = elements.get(id as Id);
      const frame = elementFrames.get(id as Id);
      return element && frame ? { element, member: element.member, frame } : undefined;
    },
    joint(id) {
      const joint = joints.get(id as Id);
      const frame = structure.jointFrames.get(id as Id);
      return joint && frame ? { joint, frame } : undefined;
    },
    memberName: structure.nameOf,
    fromSource: (member) => (distances ??= distancesFromSources(design)).get(member) ?? Infinity,
    carrier: (a, la, b, lb) => paths.carrier(a, la, b, lb),
    turn: (m, c, line) => paths.turn(m, c, line),
    travel: (m, c, line) => paths.travel(m, c, line),
    coordinate(ref) {
      const c = coordinateOf(structure, ref);
      return (
        c && {
          index: c.index,
          motion: c.motion === 'slide' ? 'slide' : 'turn',
          joint: c.joint,
          parent: c.joint.parent,
          child: c.joint.child,
          point: c.point,
          axis: c.axis,
          lead: c.lead,
        }
      );
    },
    carried(member, will = () => true) {
      const joints = design.joints.filter((x) => structure.firstOf.has(x.id) && (x.child === member || x.parent === member));
      // As stated, the joint carries its child; found the other way round it moves its parent against its child, in the other sense.
      const ways = [...joints.filter((j) => j.child === member), ...joints.filter((j) => j.child !== member)].flatMap((j) => {
        const c = coordinateOf(structure, j.id);
        if (!c) return [];
        const forward = j.child === member;
        const motion: 'turn' | 'slide' = c.motion === 'slide' ? 'slide' : 'turn';
        const closing = structure.closures.find((x) => x.joint.id === j.id);
        const crossings: Term['crossings'] = closing && [forward ? [closing.reached, closing.child] : [closing.child, closing.reached]];
        return [{ index: c.index, motion, parent: forward ? j.parent : j.child, point: c.point, axis: c.axis, sense: forward ? 1 : -1, crossings }];
      });
      return ways.find(will) ?? ways[0];
    },
  };
  findings.push(...faceStops(design, structure, elements, elementFrames));

  const couplings: CompiledCoupling[] = [];
  for (const c of design.couplings) {
    const kind = couplingKind(c.type);
    if (!kind) continue;
    const made = kind.model(c, context);
    findings.push(...made.findings);
    for (const model of made.model ? rowsOf(made.model) : []) couplings.push({ coupling: c, model });
  }
  for (const joint of design.joints) {
    const made = structure.firstOf.has(joint.id) && joint.type === 'screw' ? threadOf(joint, context) : undefined;
    if (!made) continue;
    findings.push(...made.findings);
    couplings.push(made);
  }
  const rows = couplings.map(({ coupling, model }) => rowOf(coupling, model));

  const sources: CompiledSource[] = [];
  for (const source of design.sources) {
    const c = coordinateOf(structure, source.joint);
    if (!c) {
      findings.push(finding('source-without-joint', [source.id], { source: source.name }));
    } else if (sources.some((s) => s.coordinate === c.index)) {
      findings.push(finding('sources-on-one-joint', [source.id, c.joint.id], { source: source.name }));
    } else sources.push({ source, coordinate: c.index });
  }
  const reduction = eliminate(
    structure.coordinates.length,
    rows,
    sources.map((s) => s.coordinate),
  );
  let bound: Kinematics | undefined;
  return {
    design,
    structure,
    elementFrames,
    elements,
    couplings,
    rows,
    reduction,
    sources,
    findings,
    context,
    get kinematics() {
      return (bound ??= kinematicsOf(this));
    },
  };
}
