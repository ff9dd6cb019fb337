/**
 * The input deck and the answers of the open solver CalculiX: “CalculiX CrunchiX user’s
 * manual”, keyword by keyword; the answer’s file by “CalculiX GraphiX”, result format.
 */
import type { StrengthModel } from '../strength/index';

const n = (x: number): string => {
  const text = String(Number(x.toPrecision(10)));
  return text.includes('.') || text.includes('e') ? text : `${text}.`;
};
/** Names of ours go into comments only, on one line, in letters that every program reads. */
const plain = (text: string): string =>
  text
    .replace(/[^\x20-\x7e]+/g, ' ')
    .slice(0, 80)
    .trim();

/** Whole numbers in lines of ten. */
function* inLines(values: Iterable<number>): Generator<string> {
  let line: number[] = [];
  for (const v of values) {
    line.push(v);
    if (line.length === 10) {
      yield `${line.join(', ')},`;
      line = [];
    }
  }
  if (line.length) yield line.join(', ');
}

/** The deck, ready for `ccx`: mm, N, MPa. Nodes and elements count from 1. */
export function writeDeck(model: StrengthModel): string {
  const { mesh, sets, ties, supports, material, stiffness } = model;
  const nodes = mesh.points.length / 3,
    elements = mesh.tets.length / 10;
  const out: string[] = ['*HEADING', `${plain(model.name) || 'Member'}: forces of a load sheet; mm, N, MPa`, '*NODE, NSET=BODY'];
  for (let i = 0; i < nodes; i++) out.push(`${i + 1}, ${n(mesh.points[3 * i])}, ${n(mesh.points[3 * i + 1])}, ${n(mesh.points[3 * i + 2])}`);
  out.push('*ELEMENT, TYPE=C3D10, ELSET=BODY');
  for (let e = 0; e < elements; e++) out.push(`${e + 1}, ${[...mesh.tets.subarray(10 * e, 10 * e + 10)].map((i) => i + 1).join(', ')}`);
  out.push(
    '*MATERIAL, NAME=STATED',
    '*ELASTIC',
    `${n(material.young)}, ${n(material.poisson)}`,
    '*SOLID SECTION, ELSET=BODY, MATERIAL=STATED',
    '** Six soft springs to the ground hold the body and no more: what acts on it adds up to nothing, so they carry nothing.',
    '*NODE, NSET=GROUND',
  );
  supports.forEach((s, k) => out.push(`${nodes + k + 1}, ${[0, 1, 2].map((x) => n(mesh.points[3 * s.node + x])).join(', ')}`));
  supports.forEach((s, k) => {
    const direction = s.direction + 1;
    out.push(`*ELEMENT, TYPE=SPRING2, ELSET=SOFT${k + 1}`, `${elements + k + 1}, ${s.node + 1}, ${nodes + k + 1}`);
    out.push(`*SPRING, ELSET=SOFT${k + 1}`, `${direction}, ${direction}`, n(stiffness));
  });
  for (const tie of ties) {
    out.push(`** ${tie.names.map(plain).join(' and ')} do not touch: held together where they come nearest.`);
    for (const e of tie.equations) {
      out.push('*EQUATION', String(e.length));
      for (let i = 0; i < e.length; i += 4) {
        out.push(
          e
            .slice(i, i + 4)
            .map((t) => `${t.node + 1}, ${t.direction + 1}, ${n(t.coefficient)}`)
            .join(', '),
        );
      }
    }
  }
  out.push('*BOUNDARY', 'GROUND, 1, 3');
  sets.forEach((s, k) => out.push(`*NSET, NSET=AT${k + 1}`, ...inLines([...s.nodes].map((i) => i + 1))));
  out.push('*STEP', '*STATIC');
  sets.forEach((s, k) => {
    out.push(
      `** AT${k + 1}: ${plain(s.name)}. At ${s.point.map(n).join(' ')} mm: force ${s.force.map(n).join(' ')} N, moment ${s.moment.map(n).join(' ')} N m`,
      '*CLOAD',
    );
    s.nodes.forEach((node, i) => {
      for (let x = 0; x < 3; x++) if (s.forces[3 * i + x] !== 0) out.push(`${node + 1}, ${x + 1}, ${n(s.forces[3 * i + x])}`);
    });
  });
  out.push('*NODE FILE', 'U', '*EL FILE', 'S', '*NODE PRINT, NSET=GROUND, TOTALS=YES', 'RF', '*END STEP', '');
  return out.join('\n');
}

/** What the solver found: displacements (mm) and stresses (MPa: xx, yy, zz, xy, yz, zx) at the body's nodes. */
export interface StrengthAnswer {
  displacements: Float64Array;
  stresses: Float64Array;
  /** Sum of what the supports carry, N: each by its size. */
  carried: number;
}

/**
 * A block of the result file: a header that begins with -4 and a
 * name, then a line a node that begins with -1, in columns of twelve.
 */
function block(text: string, name: string, components: number, nodes: number): Float64Array | undefined {
  const from = text.indexOf(` -4  ${name}`);
  if (from < 0) return undefined;
  const out = new Float64Array(components * nodes);
  const to = text.indexOf('\n -3', from);
  for (const line of text.slice(from, to < 0 ? undefined : to).split('\n')) {
    if (!line.startsWith(' -1')) continue;
    const node = Number(line.slice(3, 13)) - 1;
    if (node < 0 || node >= nodes) continue;
    for (let k = 0; k < components; k++) out[components * node + k] = Number(line.slice(13 + 12 * k, 25 + 12 * k));
  }
  return out;
}

/**
 * Reads `ccx`'s result file (.frd) and what it printed (.dat), for a
 * body of so many nodes; undefined where the run did not end well.
 */
export function readAnswer(frd: string, dat: string, nodes: number): StrengthAnswer | undefined {
  const displacements = block(frd, 'DISP', 3, nodes),
    stresses = block(frd, 'STRESS', 6, nodes);
  if (!displacements || !stresses) return undefined;
  const printed = dat.slice(dat.indexOf('forces (fx,fy,fz)'));
  let carried = 0;
  for (const line of printed.split('\n').slice(1)) {
    const words = line.trim().split(/\s+/).map(Number);
    if (words.length === 4 && words.every(Number.isFinite)) carried += Math.hypot(words[1], words[2], words[3]);
  }
  return { displacements, stresses, carried };
}

/** Equivalent stress (von Mises) at each node, MPa. */
export function equivalentStresses({ stresses }: StrengthAnswer): Float64Array {
  return Float64Array.from({ length: stresses.length / 6 }, (_, i) => {
    const [x, y, z, xy, yz, zx] = stresses.subarray(6 * i, 6 * i + 6);
    return Math.sqrt(((x - y) ** 2 + (y - z) ** 2 + (z - x) ** 2) / 2 + 3 * (xy * xy + yz * yz + zx * zx));
  });
}

/** The greatest of some stresses, and its node. */
export function greatestStress(equivalent: Float64Array): { stress: number; node: number } {
  let stress = 0,
    node = 0;
  equivalent.forEach((s, i) => {
    if (s > stress) [stress, node] = [s, i];
  });
  return { stress, node };
}
