import { readFileSync } from 'node:fs';
import DxfParser from 'dxf-parser';
import { unzipSync } from 'fflate/browser';
import svgpath from 'svgpath';
import { STLLoader } from 'three/examples/jsm/loaders/STLLoader.js';
import { describe, expect, it } from 'vitest';
import { assemblyOf, inPlace, meshed, profilesOf, sheetsOf } from '../assembly/index';
import { analyse } from '../checks/index';
import { readDesign } from '../document/index';
import { areaOf, massOf } from '../solids/index';
import { layerName, quaternionOf, writeDxf, writeStl, writeSvg, writeThreeMf } from './geometry';

const demo = (name: string) => {
  const read = readDesign(JSON.parse(readFileSync(new URL(`../../demo/${name}.json`, import.meta.url), 'utf8')));
  if (read.problems) throw new Error(name);
  return analyse(read.design);
};
const DEMOS = ['paddle-winding-gear', 'weed-rake', 'level-board', 'inspection-lift', 'towpath-trolley'];

/** Area that the closed curves of a sheet hold, holes taken away, by what was put on it. mm² */
const areas = (s: ReturnType<typeof sheetsOf>): number =>
  s.parts.reduce((sum, p) => sum + areaOf(p.outline) + p.holes.reduce((a, h) => a + areaOf(h), 0), 0);

interface Entity {
  type: string;
  layer: string;
  vertices: { x: number; y: number; bulge?: number }[];
  shape?: boolean;
  radius: number;
}
/** Signed area of a closed polyline with bulges: the polygon's, and each arc's segment r² (θ − sin θ) / 2. */
function polylineArea(v: Entity['vertices']): number {
  let a = 0;
  v.forEach((p, i) => {
    const q = v[(i + 1) % v.length];
    a += (p.x * q.y - q.x * p.y) / 2;
    if (p.bulge) {
      const angle = 4 * Math.atan(p.bulge);
      const r = Math.hypot(q.x - p.x, q.y - p.y) / (2 * Math.sin(angle / 2));
      a += (r * r * (angle - Math.sin(angle))) / 2;
    }
  });
  return a;
}

describe.each(DEMOS)('flat parts of %s', (name) => {
  const { compiled } = demo(name);
  const sheets = sheetsOf(compiled, profilesOf(compiled));

  it.each(['mm', 'in'] as const)('have the same area when another library reads them as DXF in %s', (unit) => {
    const dxf = new DxfParser().parseSync(writeDxf(sheets.drawings[0], unit))!;
    // $INSUNITS: 4 millimetres, 1 inches.
    expect(dxf.header['$INSUNITS']).toBe(unit === 'mm' ? 4 : 1);
    const k = unit === 'mm' ? 1 : 25.4 ** 2;
    const entities = dxf.entities as unknown as Entity[];
    let area = 0;
    for (const e of entities) {
      if (e.type === 'CIRCLE') continue;
      expect(e.type).toBe('LWPOLYLINE');
      expect(e.shape).toBe(true);
      area += polylineArea(e.vertices) * k;
    }
    // Circles have no sense: of the parts, those that are round are taken away here.
    const round = sheets.parts.flatMap((p) => [p.outline, ...p.holes]).filter((o) => o.pieces.length === 1);
    expect(entities.filter((e) => e.type === 'CIRCLE')).toHaveLength(round.length);
    expect(area / (areas(sheets) - round.reduce((a, o) => a + areaOf(o), 0))).toBeCloseTo(1, 4);
    const layers = new Set(entities.map((e) => e.layer));
    expect([...layers].sort()).toEqual(sheets.drawings[0].layers.map((l) => layerName(l.name)).sort());
  });

  it('have the same area when another library reads them as SVG, which is as large as it says', () => {
    const svg = writeSvg(sheets.drawings[0], 'mm');
    const { x1, y1 } = sheets.drawings[0].box;
    expect(svg).toContain(`width="${Number(x1.toFixed(5))}mm" height="${Number(y1.toFixed(5))}mm"`);
    let area = 0;
    for (const [, d] of svg.matchAll(/ d="([^"]+)"/g)) {
      let [x, y] = [0, 0];
      // The library turns arcs into curves; areas of cubics by Green's theorem, y turned over.
      svgpath(d)
        .abs()
        .unarc()
        .iterate(([op, ...v]) => {
          const n = v.map(Number);
          if (op === 'C') {
            const [x1, y1, x2, y2, x3, y3] = n;
            area -= curveArea([x, x1, x2, x3], [y, y1, y2, y3]);
            [x, y] = [x3, y3];
          } else if (op === 'L' || op === 'M') {
            if (op === 'L') area -= ((x + n[0]) * (n[1] - y)) / 2;
            [x, y] = n;
          }
        });
    }
    // The library's arcs are cubics of up to a quarter, 3e-4 of the radius off at the most.
    expect(Math.abs(area / areas(sheets) - 1)).toBeLessThan(1e-4);
  });
});

/** ∫ x dy over a cubic, by Simpson's rule in eight parts. */
function curveArea(x: number[], y: number[]): number {
  const at = (p: number[], t: number): number => (1 - t) ** 3 * p[0] + 3 * (1 - t) ** 2 * t * p[1] + 3 * (1 - t) * t * t * p[2] + t ** 3 * p[3];
  const slope = (p: number[], t: number): number => 3 * ((1 - t) ** 2 * (p[1] - p[0]) + 2 * (1 - t) * t * (p[2] - p[1]) + t * t * (p[3] - p[2]));
  let sum = 0;
  for (let k = 0; k < 8; k++) {
    for (const [t, w] of [
      [k, 1],
      [k + 0.5, 4],
      [k + 1, 1],
    ]) {
      sum += (w * at(x, t / 8) * slope(y, t / 8)) / 48;
    }
  }
  return sum;
}

describe('surfaces of a demo', () => {
  const { compiled, pose } = demo('paddle-winding-gear');
  const assembly = assemblyOf(compiled, pose);
  const surfaces = meshed(assembly);
  const weighed = assembly.members.flatMap((m) => m.bodies).reduce((v, b) => v + massOf(b.solids, 1e9).mass, 0);
  const held = (p: ArrayLike<number>): number => {
    let v = 0;
    for (let i = 0; i < p.length; i += 9) {
      v +=
        (p[i] * (p[i + 4] * p[i + 8] - p[i + 5] * p[i + 7]) +
          p[i + 1] * (p[i + 5] * p[i + 6] - p[i + 3] * p[i + 8]) +
          p[i + 2] * (p[i + 3] * p[i + 7] - p[i + 4] * p[i + 6])) /
        6;
    }
    return v;
  };

  it.each([
    ['mm', 1],
    ['in', 25.4],
  ] as const)('as STL in %s hold what is weighed, read by another library', (unit, k) => {
    const file = writeStl(inPlace(surfaces), unit);
    const read = new STLLoader().parse(file.buffer);
    expect((held(read.getAttribute('position').array) * k ** 3) / weighed).toBeCloseTo(1, 3);
  });

  it('as 3MF are a zip with a model of named objects, in place', () => {
    const files = unzipSync(writeThreeMf(surfaces, 'mm'));
    expect(Object.keys(files).sort()).toEqual(['3D/3dmodel.model', '[Content_Types].xml', '_rels/.rels']);
    const model = new TextDecoder().decode(files['3D/3dmodel.model']);
    expect(model).toContain('unit="millimeter"');
    for (const m of assembly.members) expect(model).toContain(`name="${m.name}"`);
    expect(model.match(/<item /g)).toHaveLength(assembly.members.length);
    expect(model.match(/<component /g)).toHaveLength(assembly.members.reduce((n, m) => n + m.bodies.length, 0));
  });

  it('have rotations whose quaternion turns the axes as they are', () => {
    for (const [x, y, z] of [
      [
        [1, 0, 0],
        [0, 1, 0],
        [0, 0, 1],
      ],
      [
        [-1, 0, 0],
        [0, -1, 0],
        [0, 0, 1],
      ],
      [
        [0, 0, 1],
        [1, 0, 0],
        [0, 1, 0],
      ],
      [
        [0.36, 0.48, -0.8],
        [-0.8, 0.6, 0],
        [0.48, 0.64, 0.6],
      ],
    ]) {
      const [a, b, c, w] = quaternionOf(x, y, z);
      // Rotation of the axes by the quaternion (Shoemake 1985).
      expect([1 - 2 * (b * b + c * c), 2 * (a * b + c * w), 2 * (a * c - b * w)].map((v) => Number(v.toFixed(9)) + 0)).toEqual(
        x.map((v) => Number(v.toFixed(9)) + 0),
      );
      expect([2 * (a * b - c * w), 1 - 2 * (a * a + c * c), 2 * (b * c + a * w)].map((v) => Number(v.toFixed(9)) + 0)).toEqual(
        y.map((v) => Number(v.toFixed(9)) + 0),
      );
    }
  });
});
