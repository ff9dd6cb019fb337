import { couplingKind, type CouplingContext, type CouplingModel } from '../couplings/index';
import { Coupling, Design, Element, Finding, Id, Source, finding } from '../fields/types';
import { elementProblems } from '../elements/index';
import { PiRatio, isZero, piAdd, piMul } from '../exact/index';
import { Frame, frameOf, within } from '../numeric/index';
import { LinearRow, Reduction, eliminate } from './eliminate';
import { faceStops } from './face-stops';
import { Coordinate, Paths, Structure, structureOf } from './structure';

/** A coupling with what it ties, as compiled. */
export interface CompiledCoupling {
  coupling: Coupling;
  model: CouplingModel;
}

export interface CompiledSource {
  source: Source;
  coordinate: number;
}

/** Everything that is known before any number is solved. */
export interface Compiled {
  design: Design;
  structure: Structure;
  elementFrames: Map<Id, Frame>;
  elements: Map<Id, Element>;
  couplings: CompiledCoupling[];
  rows: LinearRow[];
  reduction: Reduction;
  sources: CompiledSource[];
  findings: Finding[];
  context: CouplingContext;
}

/** The main coordinate of a joint, or the numbered one in "joint:1". */
export function coordinateOf(s: Structure, ref: unknown): Coordinate | undefined {
  if (typeof ref !== 'string') return undefined;
  const [id, order = '0'] = ref.split(':');
  const first = s.firstOf.get(id);
  const c = first === undefined ? undefined : s.coordinates[first + Number(order)];
  return c && c.joint.id === id ? c : undefined;
}

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
  return { coupling: c.id, terms: terms.filter((t) => !isZero(t.coefficient.q)), offset: m.offset, numeric: !!(m.curve || m.oneWay) };
}

/** Checks a document that the schema has passed and turns it into rows: nothing numeric is solved yet, and nothing throws. */
export function compile(design: Design): Compiled {
  const structure = structureOf(design);
  const findings = [...structure.findings];
  const elements = new Map<Id, Element>();
  const elementFrames = new Map<Id, Frame>();
  for (const e of design.elements) {
    elements.set(e.id, e);
    const member = structure.frames.get(e.member);
    if (!member) {
      findings.push(
        finding('stop', 'element-member-missing', [e.id], `“${e.name}” is on a member that the design does not have: choose another`, 'member'),
      );
      continue;
    }
    elementFrames.set(e.id, within(member, frameOf(e.at ?? [0, 0, 0], e.axis ?? [0, 0, 1], e.up ?? (e.axis ? undefined : [1, 0, 0]))));
    for (const p of elementProblems(e)) {
      findings.push(finding(p.severity, p.code, [e.id], `“${e.name}”: ${p.message}`, p.field));
    }
  }
  const paths = new Paths(structure);
  const joints = new Map(design.joints.map((j) => [j.id, j]));
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
    carrier: (a, la, b, lb) => paths.carrier(a, la, b, lb),
    turn: (m, c, axis) => paths.turn(m, c, axis),
    travel: (m, c, d) => paths.travel(m, c, d),
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
    carried(member) {
      const j = design.joints.find((x) => x.child === member && structure.firstOf.has(x.id));
      const c = j && coordinateOf(structure, j.id);
      return c && { index: c.index, motion: c.motion === 'slide' ? 'slide' : 'turn', parent: c.joint.parent, point: c.point, axis: c.axis };
    },
  };
  findings.push(...faceStops(design, structure, elements, elementFrames));

  const couplings: CompiledCoupling[] = [];
  for (const c of design.couplings) {
    const kind = couplingKind(c.type);
    if (!kind) continue;
    const made = kind.model(c, context);
    findings.push(...made.findings);
    for (const model of made.model ? [made.model, ...(made.model.more ?? [])] : []) couplings.push({ coupling: c, model });
  }
  const rows = couplings.map(({ coupling, model }) => rowOf(coupling, model));

  const sources: CompiledSource[] = [];
  for (const source of design.sources) {
    const c = coordinateOf(structure, source.joint);
    if (!c) {
      findings.push(
        finding(
          'stop',
          'source-without-joint',
          [source.id],
          `source “${source.name}” drives no joint: choose the joint that it turns or pushes`,
          'joint',
        ),
      );
    } else if (sources.some((s) => s.coordinate === c.index)) {
      findings.push(
        finding(
          'stop',
          'sources-on-one-joint',
          [source.id, c.joint.id],
          `“${source.name}” drives a joint that another source drives already: choose another joint or remove one source`,
          'joint',
        ),
      );
    } else sources.push({ source, coordinate: c.index });
  }
  const reduction = eliminate(
    structure.coordinates.length,
    rows,
    sources.map((s) => s.coordinate),
  );
  return { design, structure, elementFrames, elements, couplings, rows, reduction, sources, findings, context };
}
