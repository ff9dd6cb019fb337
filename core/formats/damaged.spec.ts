import { readFileSync } from 'node:fs';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { assemblyOf, inPlace, mechanismOf, meshed, standing } from '../assembly/index';
import { analyse } from '../checks/index';
import type { Design } from '../document/index';
import * as formats from './geometry';

const {
  CannotRead,
  partsOfMeshes,
  readGltf,
  readModel,
  readStl,
  readThreeMf,
  stepStructure,
  writeGltf,
  writeMjcf,
  writeStl,
  writeThreeMf,
  writeUrdf,
} = formats;
const design = JSON.parse(readFileSync(new URL('../../demo/paddle-winding-gear.json', import.meta.url), 'utf8')) as Design;
const { compiled, pose } = analyse({ ...design, elements: design.elements.filter((e) => e.type === 'block' || e.type === 'rod') });
const assembly = assemblyOf(compiled, pose);
const surfaces = meshed(assembly);
const mechanism = mechanismOf(compiled, pose, assembly);
const still = standing(assembly, compiled);
const step = readFileSync(new URL('../../demo/parts/head-beam.step', import.meta.url), 'latin1');
const model = unzipSync(writeThreeMf(surfaces))['3D/3dmodel.model'];

/** Texts of each kind of file, and how each is read. */
const KINDS: readonly [string, string, (text: string) => unknown][] = [
  ['3MF', strFromU8(model), (t) => partsOfMeshes(readThreeMf(zipSync({ '3D/3dmodel.model': strToU8(t) })), 'x')],
  ['STL text', text(), (t) => partsOfMeshes(readStl(strToU8(t), 'x', 1), 'x')],
  ['STEP', step, stepStructure],
  ['URDF', writeUrdf(mechanism, still).xml, (t) => readModel(strToU8(t))],
  ['MJCF', writeMjcf(mechanism, still).xml, (t) => readModel(strToU8(t))],
];
function text(): string {
  const [mesh] = inPlace(surfaces);
  const corner = (i: number): string => `vertex ${mesh.points.slice(3 * i, 3 * i + 3).join(' ')}`;
  const facets = Array.from(
    { length: mesh.triangles.length / 3 },
    (_, k) => `facet\n${Array.from(mesh.triangles.slice(3 * k, 3 * k + 3), corner).join('\n')}\nendfacet`,
  );
  return `solid x\n${facets.join('\n')}\nendsolid x\n`;
}

/** A text with something left out, put in, or said twice. */
const damage = (whole: string): fc.Arbitrary<string> =>
  fc
    .record({
      share: fc.double({ min: 0, max: 1, noNaN: true }),
      length: fc.integer({ min: 1, max: 40 }),
      how: fc.constantFrom('cut', 'put', 'twice', 'attribute'),
      put: fc.constantFrom('NaN', '1e999', '-1', '"', '<', "'", '#', '\u0000', '99999999', '()'),
    })
    .map(({ share, length, how, put }) => {
      const at = Math.floor(share * whole.length);
      const [before, inside, after] = [whole.slice(0, at), whole.slice(at, at + length), whole.slice(at + length)];
      if (how === 'cut') return before + after;
      if (how === 'twice') return before + inside + inside + after;
      // An attribute and its value, or a word, the next from here on.
      if (how === 'attribute') return before + (inside + after).replace(/\s[\w:]+="[^"]*"|[A-Z_]{4,}/, '');
      return before + put + after;
    });

/** Reads; gives whether it was taken in. Whatever else than a sentence is thrown goes on. */
async function taken(read: () => unknown): Promise<boolean> {
  try {
    await read();
    return true;
  } catch (e) {
    if (e instanceof CannotRead) return false;
    throw e;
  }
}

describe('whatever is damaged in a file, it is taken in or gets a sentence', () => {
  it.each(KINDS)('%s', async (_, whole, read) => {
    const seen = { in: 0, refused: 0 };
    expect(await taken(() => read(whole))).toBe(true);
    await fc.assert(
      fc.asyncProperty(damage(whole), async (t) => {
        seen[(await taken(() => read(t))) ? 'in' : 'refused']++;
      }),
      { numRuns: 150 },
    );
    // Both are reached.
    expect(seen.in).toBeGreaterThan(5);
    expect(seen.refused).toBeGreaterThan(5);
  });

  it('binary STL and GLB, byte by byte', async () => {
    const stl = writeStl(inPlace(surfaces)),
      glb = await writeGltf(surfaces);
    const seen = { in: 0, refused: 0 };
    for (const [bytes, read] of [
      [stl, (b: Uint8Array) => partsOfMeshes(readStl(b, 'x', 1), 'x')],
      [glb, async (b: Uint8Array) => partsOfMeshes(await readGltf(b), 'x')],
    ] as const) {
      await fc.assert(
        fc.asyncProperty(fc.integer({ min: 0, max: 2000 }), fc.integer({ min: 0, max: 255 }), async (at, byte) => {
          const bad = bytes.slice();
          bad[at % bad.length] = byte;
          seen[(await taken(() => read(bad))) ? 'in' : 'refused']++;
        }),
        { numRuns: 150 },
      );
    }
    expect(seen.in).toBeGreaterThan(5);
    expect(seen.refused).toBeGreaterThan(5);
  });
});
