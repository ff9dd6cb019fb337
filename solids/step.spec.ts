import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { beforeAll, describe, expect, it } from 'vitest';
import { open } from '@unirota/core';
import { type Body, assemblyOf, inWorld } from '@unirota/core/assembly';
import { elementKind } from '@unirota/core/elements';
import { WORLD } from '@unirota/core/math';
import { massOf, meshOf } from '@unirota/core/solids';
import { SAMPLES, sample } from '../core/testing/samples';
import { type Kernel, loadKernel, volumeIn, scoped, solidOf, volumeOf, writeStep } from './index';

const require = createRequire(import.meta.url);
let oc: Kernel;
beforeAll(async () => {
  oc = await loadKernel({ bytes: readFileSync(require.resolve('replicad-opencascadejs/wasm')) });
});

describe('a solid of the kernel', () => {
  it.each(Object.keys(SAMPLES))('of a %s holds what is weighed, and is sound', (type) => {
    for (const s of elementKind(type)!.shape(sample(type))) {
      scoped((scope) => {
        const shape = scope.own(solidOf(oc, scope, s));
        expect(volumeOf(oc, shape) / massOf([s], 1e9).mass).toBeCloseTo(1, 6);
        expect(scope.own(new oc.BRepCheck_Analyzer(shape, true, false)).IsValid()).toBe(true);
      });
    }
  });
});

const opened = open(JSON.parse(readFileSync(new URL('../demo/paddle-winding-gear.json', import.meta.url), 'utf8')));
if (opened.problems) throw new Error('The demo cannot be opened.');

describe('a STEP file of a demo', () => {
  const { compiled, pose } = opened.snapshot();
  const assembly = assemblyOf(compiled, pose);
  const weighed = (): number => assembly.members.flatMap((m) => m.bodies).reduce((v, b) => v + massOf(b.solids, 1e9).mass, 0);

  it.each(['mm', 'in'] as const)('in %s holds what is weighed, read back by the kernel', (unit) => {
    const bytes = writeStep(oc, assembly, unit);
    expect(volumeIn(oc, bytes) / weighed()).toBeCloseTo(1, 6);
  });
});

interface Node {
  name: string;
  meshes: number[];
  children: Node[];
}
/** What the other library reads: the tree of a file, and its meshes with colours. */
async function readByOther(
  bytes: Uint8Array,
): Promise<{ root: Node; meshes: { name: string; color?: number[]; attributes: { position: { array: number[] } } }[] }> {
  const other = (await (require('occt-import-js') as () => Promise<{ ReadStepFile(b: Uint8Array, o: unknown): unknown }>)()).ReadStepFile(bytes, {
    linearUnit: 'millimeter',
    linearDeflectionType: 'absolute_value',
    linearDeflection: 0.5,
    angularDeflection: 0.5,
  });
  return other as Awaited<ReturnType<typeof readByOther>>;
}

describe('a STEP file read by another library', () => {
  it('has the members and bodies by name, in place, in their colours', async () => {
    const { compiled, pose } = opened.snapshot();
    const assembly = assemblyOf(compiled, pose);
    const { root, meshes } = await readByOther(writeStep(oc, assembly, 'in'));
    const [top] = root.children;
    expect(top.name).toBe(assembly.name);
    expect(top.children.map((n) => n.name)).toEqual(assembly.members.map((m) => m.name));
    // A body of several solids is several meshes.
    const remark = (b: Body): string => (b.remark ? `${b.name} (${b.remark})` : b.name);
    assembly.members.forEach((m, i) => {
      // The reader puts parts of a body beside the others.
      const read = top.children[i].meshes.map((k) => meshes[k]);
      expect(read.map((x) => x.name)).toEqual(
        m.bodies.flatMap((b) => (b.solids.length > 1 ? b.solids.map((_, k) => `${b.name}, ${k + 1}`) : [remark(b)])),
      );
      expect(read.every((x) => x.color)).toBe(true);
    });
    // In place: the box of all is that of our own surfaces.
    const box = (p: ArrayLike<number>[]): number[] =>
      [0, 1, 2].flatMap((k) =>
        [Math.min, Math.max].map((f) => p.reduce((v, a) => f(...(Number.isNaN(v) ? [] : [v]), ...Array.from(a).filter((_, i) => i % 3 === k)), NaN)),
      );
    const ours = assembly.members.flatMap((m) => m.bodies.flatMap((b) => b.solids.map((x) => meshOf(inWorld(b, x)).points)));
    box(meshes.map((m) => m.attributes.position.array)).forEach((v, i) => expect(Math.abs(v - box(ours)[i])).toBeLessThan(0.6));
  });
});

describe('a body that cannot be', () => {
  it.each([{ teeth: 5, shift: -1.5 }, { thinning: 20 }, { teeth: 6, dedendum: 2.4, fillet: 1 }, { internal: true, tipCut: 10 }, { bore: 400 }])(
    'is refused by its name, or holds what it weighs: a gear with %j',
    (odd) => {
      const e = { ...sample('gear'), helix: 0, ...odd };
      const body: Body = {
        element: 'e',
        name: 'Odd one',
        type: 'gear',
        shape: 'odd',
        solids: elementKind('gear')!.shape(e as never),
        place: WORLD,
        colour: '#808080',
      };
      const weighed = massOf(body.solids, 1e9).mass;
      let bytes: Uint8Array | undefined;
      try {
        bytes = writeStep(oc, { name: 'Odd', members: [{ member: 'm', name: 'M', bodies: [body] }] });
      } catch (x) {
        expect((x as Error).message).toMatch(/^“Odd one” cannot be made as a solid/);
      }
      if (bytes) expect(volumeIn(oc, bytes) / weighed).toBeCloseTo(1, 2);
    },
  );
});

describe('a modelled thread', () => {
  it.each([
    ['worm', {}],
    ['worm', { hand: 'left', starts: 3 }],
    ['screw', { diameter: 30, pitch: 6, length: 60 }],
    ['screw', { diameter: 20, pitch: 2.5, length: 30, form: 'metric' }],
    ['screw', { diameter: 20, pitch: 4, length: 30, form: 'square', hand: 'left' }],
  ])('of a %s with %j is a sound solid that holds its volume', (type, more) => {
    const solids = elementKind(type)!.threaded!({ ...sample(type), ...more } as never)!;
    const body: Body = { element: 'e', name: 'Thread', type, shape: 'thread', solids, place: WORLD, colour: '#808080' };
    const bytes = writeStep(oc, { name: 'T', members: [{ member: 'm', name: 'M', bodies: [body] }] });
    expect(volumeIn(oc, bytes) / massOf(solids, 1e9).mass).toBeCloseTo(1, 5);
  });
});

describe('standard grooves and teeth of pulleys', () => {
  it.each([
    { form: 'v', diameter: 200, width: 50, standard: 'SPA' },
    { form: 'sprocket', teeth: 17, pitch: 12.7, standard: 'ISO 606' },
    { form: 'toothed', teeth: 20, pitch: 9.525, standard: 'ISO 5294' },
  ])('%j are sound solids', (more) => {
    const solids = elementKind('pulley')!.shape({ ...sample('pulley'), ...more } as never);
    const body: Body = { element: 'e', name: 'Pulley', type: 'pulley', shape: 'p', solids, place: WORLD, colour: '#808080' };
    const bytes = writeStep(oc, { name: 'T', members: [{ member: 'm', name: 'M', bodies: [body] }] });
    expect(volumeIn(oc, bytes) / massOf(solids, 1e9).mass).toBeCloseTo(1, 6);
  });
});
