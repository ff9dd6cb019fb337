import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { beforeAll, describe, expect, it } from 'vitest';
import { type Assembly, assemblyOf } from '../core/assembly/index';
import { analyse, open } from '../core/engine';
import { contentHash, writeShape } from '../core/formats/geometry';
import { WORLD, dot, frameOf, norm, vsub } from '../core/math/index';
import { type Solid, bar, circle, massOf, rectangle } from '../core/solids/index';
import { sizeOfMesh, welded } from '../core/shapes/index';
import { type Kernel, loadKernel, readParts, readStep, volumeIn, writeStep } from './index';

let oc: Kernel;
beforeAll(async () => {
  oc = await loadKernel({ bytes: readFileSync(createRequire(import.meta.url).resolve('replicad-opencascadejs/wasm')) });
});

const assembly = (solids: Solid[], place = WORLD): Assembly => ({
  name: 'Works',
  members: [
    {
      member: 'm',
      name: 'Bracket group',
      bodies: solids.map((s, i) => ({ element: `e${i}`, name: `Part ${i}`, type: 'block', shape: `s${i}`, solids: [s], place, colour: '#b9614c' })),
    },
  ],
});
const plate: Solid = { kind: 'prism', outline: rectangle(0, 0, 100, 40), holes: [circle(6, 25, 20), circle(10, 70, 20)], from: 0, to: 8 };

describe('a STEP file comes in', () => {
  const place = frameOf([10, -20, 30], [1, 2, 2], [0, 1, 0]);

  it('with name, colour, the assemblies it stands in, its place, and what it weighs', () => {
    const { parts } = readStep(oc, writeStep(oc, assembly([plate], place)), 'plate.step');
    expect(parts).toHaveLength(1);
    const [p] = parts;
    expect([p.data.part, p.data.colour, p.path]).toEqual(['Part 0', '#b9614c', ['Works', 'Bracket group']]);
    const exact = massOf([plate], 1e9);
    expect(p.data.size.volume / exact.mass).toBeCloseTo(1, 9);
    expect(norm(vsub(p.data.size.centroid, exact.centre))).toBeLessThan(1e-6);
    exact.inertia.forEach((x, k) => expect(p.data.size.inertia[k]).toBeCloseTo(x / exact.mass, 5));
    for (const key of ['o', 'x', 'y', 'z'] as const) expect(norm(vsub(p.place[key], place[key]))).toBeLessThan(1e-9);
  });

  it('in inches as large as in mm', () => {
    const [mm, inch] = (['mm', 'in'] as const).map((unit) => readStep(oc, writeStep(oc, assembly([plate]), unit), 'x.step').parts[0].data);
    expect(inch.size.volume / mm.size.volume).toBeCloseTo(1, 9);
    inch.size.most.forEach((x, k) => expect(x).toBeCloseTo(mm.size.most[k], 6));
  });

  it.each(['AP203', 'AP214', 'AP242'] as const)('of %s', (protocol) => {
    const bytes = writeStep(oc, assembly([plate]), 'mm', undefined, protocol);
    const [p] = readStep(oc, bytes, 'x.step').parts;
    expect([p.data.part, p.data.colour]).toEqual(['Part 0', '#b9614c']);
    expect(p.data.size.volume / massOf([plate], 1e9).mass).toBeCloseTo(1, 9);
  });

  it('its places are where they are in the solid: bores by axis and diameter, faces outward, edges and corners', () => {
    const { places } = readStep(oc, writeStep(oc, assembly([plate])), 'x.step').parts[0].data;
    const axes = places.filter((p) => p.kind === 'axis').sort((a, b) => a.size - b.size);
    expect(axes.map((p) => p.size)).toEqual([12, 20].map((x) => expect.closeTo(x, 9)));
    axes.forEach((p, k) => {
      expect(p.point).toEqual([k ? 70 : 25, 20, 4].map((x) => expect.closeTo(x, 9)));
      expect(Math.abs(p.direction[2])).toBeCloseTo(1, 12);
    });
    const faces = places.filter((p) => p.kind === 'face');
    expect(faces).toHaveLength(6);
    for (const f of faces) expect(dot(f.direction, vsub(f.point, [50, 20, 4]))).toBeGreaterThan(0);
    const top = faces.find((f) => f.direction[2] > 0.5)!;
    expect(top.size).toBeCloseTo(4000 - Math.PI * (36 + 100), 6);
    expect(
      places
        .filter((p) => p.kind === 'centre')
        .map((p) => p.size)
        .sort((a, b) => a - b),
    ).toEqual([12, 12, 20, 20].map((x) => expect.closeTo(x, 9)));
    expect(places.filter((p) => p.kind === 'corner').length).toBeGreaterThanOrEqual(8);
  });

  it('a cone says its axis by its rims', () => {
    const cone: Solid = {
      kind: 'turned',
      section: {
        start: [0, 0],
        pieces: [
          [20, 0],
          [10, 30],
          [0, 30],
          [0, 0],
        ].map((to) => ({ kind: 'line', to: to as [number, number] })),
      },
    };
    const axes = readStep(oc, writeStep(oc, assembly([cone])), 'x.step').parts[0].data.places.filter((p) => p.kind === 'axis');
    expect(axes.some((p) => Math.abs(p.direction[2]) > 1 - 1e-9 && Math.hypot(p.point[0], p.point[1]) < 1e-9)).toBe(true);
  });

  it('its surface is closed and holds the volume within the fineness of drawing', () => {
    const { mesh, size } = readStep(oc, writeStep(oc, assembly([plate, bar(15, 0, 60, 4)])), 'x.step').parts[1].data;
    const drawn = sizeOfMesh(welded(mesh)).size;
    expect(drawn.closed).toBe(true);
    expect(drawn.volume / size.volume).toBeCloseTo(1, 2);
  });

  it('a part that occurs twice has one content; the same part read again has the same name', () => {
    const twice: Assembly = assembly([plate]);
    const [body] = twice.members[0].bodies;
    twice.members[0].bodies.push({ ...body, element: 'other', place: frameOf([0, 0, 50]) });
    const bytes = writeStep(oc, twice);
    const { parts } = readStep(oc, bytes, 'x.step');
    expect(parts).toHaveLength(2);
    expect(parts[0].data).toBe(parts[1].data);
    expect(parts[1].place.o[2]).toBeCloseTo(50, 9);
    expect(contentHash(writeShape(readStep(oc, bytes, 'x.step').parts[0].data))).toBe(contentHash(writeShape(parts[0].data)));
  });

  it('goes out again as the exact solid that it was', async () => {
    const read = open(JSON.parse(readFileSync(new URL('../demo/screw-gate.json', import.meta.url), 'utf8')));
    if (read.problems) throw new Error('demo');
    const { compiled, pose } = analyse(read.design);
    const hash = (read.design.elements.find((e) => e.id === 'beam') as { content?: string }).content!;
    const { readShape } = await import('../core/formats/geometry');
    const shapes = new Map([[hash, readShape(readFileSync(new URL(`../demo/shapes/${hash}`, import.meta.url)), hash)]]);
    const beam = assemblyOf(compiled, pose, ['frame'], shapes);
    const only = { ...beam, members: beam.members.map((m) => ({ ...m, bodies: m.bodies.filter((b) => b.content) })) };
    const again = readStep(oc, writeStep(oc, only), 'x.step').parts[0];
    expect(again.data.size.volume).toBeCloseTo(shapes.get(hash)!.size.volume, 3);
    expect(again.place.o).toEqual([0, 150, 1800].map((x) => expect.closeTo(x, 9)));
    expect(volumeIn(oc, writeStep(oc, only))).toBeCloseTo(again.data.size.volume, 3);
  });
});

describe('a file that is wrong', () => {
  const never = (): Promise<Kernel> => Promise.reject(new Error('the kernel is not needed'));
  it.each([
    ['x.step', '', /empty/],
    ['x.step', 'hello', /no STEP/],
    ['x.doc', 'hello', /not taken in/],
    ['x.3mf', 'hello', /no 3MF/],
  ])('%s of “%s” gets a sentence before the kernel is loaded', async (file, text, words) => {
    await expect(readParts(new TextEncoder().encode(text), file, 'mm', never)).rejects.toThrow(words);
  });
  it('a STEP file whose geometry is gone, or that is damaged in the middle, throws in words or is read: never anything else', () => {
    const text = new TextDecoder().decode(writeStep(oc, assembly([plate])));
    for (const bad of [
      text.replace(/CYLINDRICAL_SURFACE/g, 'NOTHING'),
      text.replace(/#(\d+) = ADVANCED_FACE/g, '#$1 = ADVANCED'),
      text.replace(/-?\d+\.\d+/g, '1.E400'),
    ]) {
      try {
        readStep(oc, new TextEncoder().encode(bad), 'x.step');
      } catch (e) {
        expect((e as Error).message).toMatch(/^The file/);
      }
    }
  });
});
