import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { type Solid, bar, circle, rectangle } from '../solids/index';
import type { LoadLine } from '../forces/index';
import { equivalentStresses, greatestStress, readAnswer, readMesh, writeDeck, writeGeometry } from '../formats/index';
import type { Vec3 } from '../math/index';
import { STEEL, type SolidMesh, type StrengthModel, strengthModel, volumesOf } from './index';

/** Runs the open mesher on solids. */
function meshed(solids: Solid[], size: number): SolidMesh {
  const folder = mkdtempSync(join(tmpdir(), 'unirota-strength-'));
  try {
    writeFileSync(join(folder, 'b.geo'), writeGeometry(solids, size));
    execFileSync('gmsh', ['-3', '-format', 'msh22', '-v', '1', '-o', 'b.msh', 'b.geo'], {
      cwd: folder,
      stdio: 'pipe',
      timeout: 60_000,
      killSignal: 'SIGKILL',
    });
    return readMesh(readFileSync(join(folder, 'b.msh'), 'utf8'))!;
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/** Runs the open solver on a model's deck, as it is. */
function solved(model: StrengthModel): NonNullable<ReturnType<typeof readAnswer>> {
  const folder = mkdtempSync(join(tmpdir(), 'unirota-strength-'));
  try {
    writeFileSync(join(folder, 'b.inp'), writeDeck(model));
    execFileSync('ccx', ['b'], { cwd: folder, stdio: 'pipe', timeout: 60_000, killSignal: 'SIGKILL' });
    return readAnswer(readFileSync(join(folder, 'b.frd'), 'utf8'), readFileSync(join(folder, 'b.dat'), 'utf8'), model.mesh.points.length / 3)!;
  } finally {
    rmSync(folder, { recursive: true });
  }
}

const line = (name: string, point: Vec3, force: Vec3, moment: Vec3 = [0, 0, 0], kind: LoadLine['kind'] = 'joint'): LoadLine => ({
  kind,
  id: name,
  name,
  point,
  force,
  moment,
});
const body = (solids: Solid[]) => ({ member: 'm', name: 'Bar', parts: [{ element: 'e', name: 'Bar', solids }], volume: 1, left: [], thinnest: 1 });
function modelOf(solids: Solid[], lines: LoadLine[], size: number): StrengthModel {
  const model = strengthModel(body(solids), meshed(solids, size), lines, { size, material: STEEL });
  if ('sentence' in model) throw new Error(model.sentence);
  return model;
}
const sumVolume = (m: SolidMesh): number => volumesOf(m).reduce((s, v) => s + v, 0);

/** Stress and displacement at the node nearest to a place. */
function at(model: StrengthModel, answer: ReturnType<typeof solved>, place: Vec3): { stress: number[]; moved: number[]; point: number[] } {
  const { points } = model.mesh;
  let best = 0,
    least = Infinity;
  for (let i = 0; 3 * i < points.length; i++) {
    const d = Math.hypot(points[3 * i] - place[0], points[3 * i + 1] - place[1], points[3 * i + 2] - place[2]);
    if (d < least) [best, least] = [i, d];
  }
  return {
    stress: [...answer.stresses.subarray(6 * best, 6 * best + 6)],
    moved: [...answer.displacements.subarray(3 * best, 3 * best + 3)],
    point: [...points.subarray(3 * best, 3 * best + 3)],
  };
}

const D = 20,
  L = 200;
const round = [bar(D / 2, -L / 2, L / 2)];

describe('a load sheet given to a solver of finite elements (gmsh and CalculiX run here)', () => {
  it('puts each line on nodes so that forces and moments sum to it', () => {
    const lines = [line('a', [0, 0, -80], [100, 50, 20], [3, 4, 5]), line('b', [25, 3, 60], [-100, -50, -20])];
    const arm: Vec3 = [25, 3, 140];
    // What is left over is an inertia about the body's middle.
    const m: Vec3 = [-3 + 1e-3 * (arm[1] * 20 - arm[2] * 50) * 1, -4 + 1e-3 * (arm[2] * 100 - arm[0] * 20), -5 + 1e-3 * (arm[0] * 50 - arm[1] * 100)];
    lines.push(line('i', [0, 0, 0], [0, 0, 0], m, 'inertia'));
    const model = modelOf(round, lines, 8);
    for (const s of model.sets) {
      const f = [0, 0, 0],
        q = [0, 0, 0];
      s.nodes.forEach((node, i) => {
        const [x, y, z] = [0, 1, 2].map((k) => model.mesh.points[3 * node + k] - s.point[k]);
        const [fx, fy, fz] = s.forces.subarray(3 * i, 3 * i + 3);
        [fx, fy, fz].forEach((v, k) => (f[k] += v));
        [y * fz - z * fy, z * fx - x * fz, x * fy - y * fx].forEach((v, k) => (q[k] += v / 1e3));
      });
      f.forEach((v, k) => expect(v).toBeCloseTo(s.force[k], 7));
      q.forEach((v, k) => expect(v).toBeCloseTo(s.moment[k], 7));
    }
  });

  it('bends a round bar as beam theory says: 32 M / (π d³), curvature M / (E I)', () => {
    // Couples of 50 N·m at the ends.
    const model = modelOf(round, [line('a', [0, 0, -L / 2], [0, 0, 0], [-50, 0, 0]), line('b', [0, 0, L / 2], [0, 0, 0], [50, 0, 0])], 5);
    const answer = solved(model);
    const stress = (32 * 50e3) / (Math.PI * D ** 3);
    const top = at(model, answer, [0, D / 2, 0]);
    expect(Math.abs(top.stress[2] / ((stress * top.point[1]) / (D / 2)))).toBeGreaterThan(0.97);
    expect(Math.abs(top.stress[2] / ((stress * top.point[1]) / (D / 2)))).toBeLessThan(1.03);
    const [a, b, c] = [-50, 0, 50].map((z) => at(model, answer, [0, 0, z]));
    const [za, zb, zc] = [a, b, c].map((p) => p.point[2]);
    const curvature = 2 * ((c.moved[1] - b.moved[1]) / (zc - zb) - (b.moved[1] - a.moved[1]) / (zb - za)) * (1 / (zc - za));
    const I = (Math.PI * D ** 4) / 64;
    expect(Math.abs(curvature)).toBeGreaterThan((0.97 * 50e3) / (STEEL.young * I));
    expect(Math.abs(curvature)).toBeLessThan((1.03 * 50e3) / (STEEL.young * I));
    expect(answer.carried).toBeLessThan(1e-3);
  });

  it('twists a round bar as theory says: 16 T / (π d³), T L / (G J)', () => {
    const model = modelOf(round, [line('a', [0, 0, -L / 2], [0, 0, 0], [0, 0, -50]), line('b', [0, 0, L / 2], [0, 0, 0], [0, 0, 50])], 5);
    const answer = solved(model);
    const top = at(model, answer, [0, D / 2, 0]);
    const r = Math.hypot(top.point[0], top.point[1]);
    const shear = Math.hypot(top.stress[4], top.stress[5]);
    expect(shear / (((16 * 50e3) / (Math.PI * D ** 3)) * (r / (D / 2)))).toBeGreaterThan(0.97);
    expect(shear / (((16 * 50e3) / (Math.PI * D ** 3)) * (r / (D / 2)))).toBeLessThan(1.03);
    const twist = (z: number): [number, number] => {
      // Across a diameter, so that what the body as a whole moves falls out.
      const [p, q] = [
        [D / 2, 0],
        [-D / 2, 0],
      ].map(([x, y]) => at(model, answer, [x, y, z]));
      const [dx, dy] = [p.point[0] - q.point[0], p.point[1] - q.point[1]];
      const [ux, uy] = [p.moved[0] - q.moved[0], p.moved[1] - q.moved[1]];
      return [(dx * uy - dy * ux) / (dx * dx + dy * dy), (p.point[2] + q.point[2]) / 2];
    };
    const [t1, z1] = twist(-50),
      [t2, z2] = twist(50);
    const G = STEEL.young / (2 * (1 + STEEL.poisson)),
      J = (Math.PI * D ** 4) / 32;
    const rate = (50e3 / (G * J)) * (z2 - z1);
    expect((t2 - t1) / rate).toBeGreaterThan(0.97);
    expect((t2 - t1) / rate).toBeLessThan(1.03);
    expect(answer.carried).toBeLessThan(1e-3);
  });

  it('joins bodies: a flanged hub with a bore, turned and set across', () => {
    const solids: Solid[] = [
      bar(15, -20, 20, 8),
      bar(40, -5, 5, 15, { o: [0, 0, 0], x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] }),
      {
        kind: 'prism',
        outline: rectangle(0, -6, 100, 6),
        holes: [circle(3, 80, 0)],
        from: -4,
        to: 4,
        place: { o: [0, 0, 0], x: [0, 1, 0], y: [0, 0, 1], z: [1, 0, 0] },
      },
    ];
    const mesh = meshed(solids, 6);
    expect(sumVolume(mesh)).toBeGreaterThan(0.97 * (Math.PI * (15 ** 2 - 8 ** 2) * 40 + Math.PI * (40 ** 2 - 15 ** 2) * 10));
  });

  it('holds together what does not touch: a wheel about a shaft, and a plate behind it, carry torsion as one bar does', () => {
    const solids = { shaft: bar(D / 2, -100, 0), sleeve: bar(20, -20, 20, D / 2 + 1), end: bar(D / 2, 25, 100) };
    const parts = Object.entries(solids).map(([name, s]) => ({
      element: name,
      name,
      solids: [{ ...s, place: { o: [0, 0, 0], x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] } as const }],
    }));
    const lines = [line('a', [0, 0, -100], [0, 0, 0], [0, 0, -50]), line('b', [0, 0, 100], [0, 0, 0], [0, 0, 50])];
    const model = strengthModel({ ...body([]), parts }, meshed(Object.values(solids), 7), lines, { size: 7, material: STEEL }) as StrengthModel;
    expect(model.ties.map((t) => t.names.sort().join(' | ')).sort()).toEqual(['end | sleeve', 'shaft | sleeve']);
    const answer = solved(model);
    expect(answer.carried).toBeLessThan(1e-3);
    for (const z of [-50, 60]) {
      const top = at(model, answer, [0, D / 2, z]);
      const share = Math.hypot(top.point[0], top.point[1]) / (D / 2);
      expect(Math.hypot(top.stress[4], top.stress[5]) / (((16 * 50e3) / (Math.PI * D ** 3)) * share)).toBeCloseTo(1, 1);
    }
  });

  it('tells what its supports carry where the forces do not add up', () => {
    const model = modelOf(
      round,
      [line('a', [0, 0, -50], [0, 30, 0]), line('b', [0, 0, 50], [0, -30, 0]), line('c', [0, 0, 0], [0, 0, 0], [-3, 0, 0])],
      8,
    );
    model.sets[0].forces[0] += 12;
    expect(solved(model).carried).toBeGreaterThan(11.9);
  });

  it('reads the greatest equivalent stress', () => {
    const stresses = Float64Array.from([10, 10, 10, 0, 0, 0, 0, 0, 0, 10, 0, 0]);
    const equivalent = equivalentStresses({ stresses, displacements: new Float64Array(6), carried: 0 });
    expect(greatestStress(equivalent)).toEqual({ stress: Math.sqrt(300), node: 1 });
  });
});
