import { finding, elementFinding } from '../findings/index';
import { couplingKind, isNumeric, threadOf, type CouplingModel } from '../couplings/index';
import type { DrivingSource } from '../document/kinds';
import { Coupling, Design, type Id } from '../fields/types';
import { placeOf } from '../loads/index';
import { elementProblems } from '../elements/index';
import { PiRatio, dot, isZero, piAdd, piMul, vsub } from '../math/index';
import { LinearRow, eliminate } from './eliminate';
import { contactStops } from './contact-stops';
import { faceStops } from './face-stops';
import type { Compiled, CompiledCoupling, CompiledSource, Kinematics } from './compiled';
import { kinematicsOf } from './kinematics';
import { Standing, coordinateOf } from './standing';
import type { Coordinate } from './structure';

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

/** Where along its coordinate's axis a source acts, m: where it is stated to; a hand otherwise where its crank stands. */
function actsAt(source: DrivingSource & { element?: Id }, c: Coordinate, { structure, elements, elementFrames }: Standing): number {
  const crank = source.place === undefined && source.element !== undefined ? elements.get(source.element) : undefined;
  const frame = crank && elementFrames.get(crank.id);
  const bodyOf = (member: Id): number | undefined => structure.bodyOf.get(member);
  const turned = crank && [c.joint.child, c.joint.parent].some((member) => bodyOf(member) === bodyOf(crank.member));
  return frame && turned ? c.sign * 1e-3 * dot(vsub(frame.o, c.point), c.axis) : placeOf(source, c);
}

/** Checks a document that the schema has passed and turns it into rows: nothing numeric is solved yet, and nothing throws. */
export function compile(document: Design): Compiled {
  const standing = new Standing(document);
  const { design, structure, elements, elementFrames, context } = standing;
  const findings = [...structure.findings];
  for (const e of design.elements) {
    if (!elementFrames.has(e.id)) {
      findings.push(finding('element-member-missing', [e.id], { element: e.name }));
      continue;
    }
    for (const p of elementProblems(e)) findings.push(elementFinding(p, e.id, e.name));
  }
  findings.push(...faceStops(design, structure, elements, elementFrames), ...contactStops(design, structure, elements, elementFrames));

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
    } else sources.push({ source, coordinate: c.index, place: actsAt(source, c, standing) });
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
