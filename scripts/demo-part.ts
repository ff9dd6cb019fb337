/**
 * Makes the part that the demo “Screw gate” has imported: the head beam, as a STEP file (demo/parts), and its content as the
 * page stores it (demo/shapes). `npm run demo-part`; with `--check` it says whether both are as they would be made.
 */
import { mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import type { Assembly } from '../core/assembly/index';
import { type Design, readDesign } from '../core/document/index';
import { addShapes } from '../core/engine';
import { contentHash, writeShape } from '../core/formats/geometry';
import { frameOf } from '../core/math/index';
import { type Outline, type Solid, circle } from '../core/solids/index';
import { type Kernel, loadKernel, readStep, writeStep } from '../solids/index';

const DEMO = fileURLToPath(new URL('../demo/', import.meta.url));
export const kernel = (): Promise<Kernel> =>
  loadKernel({ bytes: readFileSync(createRequire(new URL('../solids/package.json', import.meta.url)).resolve('replicad-opencascadejs/wasm')) });

/** Diameter of the bores, mm: the nuts pass through them. */
export const BORE = 100;

/** A beam with rounded ends of a length, mm, with bores for two screws so far apart, and bolt holes; between two heights. */
export function headBeam(length: number, bores = 1200, from = 0, to = 60): Solid {
  const [l, w, r] = [length / 2, 70, 20];
  const quarter = (x: number, y: number, from: number): Outline['pieces'][number] => ({
    kind: 'arc',
    centre: [x, y],
    angle: Math.PI / 2,
    to: [x + r * Math.cos(from + Math.PI / 2), y + r * Math.sin(from + Math.PI / 2)],
  });
  const outline: Outline = {
    start: [-l + r, -w],
    pieces: [
      { kind: 'line', to: [l - r, -w] },
      quarter(l - r, -w + r, -Math.PI / 2),
      { kind: 'line', to: [l, w - r] },
      quarter(l - r, w - r, 0),
      { kind: 'line', to: [-l + r, w] },
      quarter(-l + r, w - r, Math.PI / 2),
      { kind: 'line', to: [-l, -w + r] },
      quarter(-l + r, -w + r, Math.PI),
    ],
  };
  const holes = [-1, 1].flatMap((s) => [circle(BORE / 2, (s * bores) / 2, 0), circle(9, s * (l - 45), 0)]);
  return { kind: 'prism', outline, holes, from, to };
}

/** The beam as a STEP file of one part. */
export function beamStep(oc: Kernel, solid: Solid): Uint8Array {
  const place = frameOf([0, 0, 0]);
  const body = { element: 'beam', name: 'Head beam', type: 'block', shape: 'beam', solids: [solid], place, colour: '#8a94a6' };
  const assembly: Assembly = { name: 'Head works', members: [{ member: 'm', name: 'Beam assembly', bodies: [body] }] };
  const text = new TextDecoder().decode(writeStep(oc, assembly));
  // Without the hour of writing: the same beam is the same file.
  return new TextEncoder().encode(text.replace(/(FILE_NAME\('[^']*',')[^']*'/, "$12026-01-01T00:00:00'"));
}

async function main(): Promise<void> {
  const oc = await kernel();
  const step = beamStep(oc, headBeam(1580));
  const [part] = readStep(oc, step, 'head-beam.step').parts;
  const content = writeShape(part.data);
  const hash = contentHash(content);
  const file = `${DEMO}screw-gate.json`;
  const design = JSON.parse(readFileSync(file, 'utf8')) as Design;
  if (process.argv.includes('--check')) {
    const same = readdirSync(`${DEMO}shapes`).join() === hash && design.elements.some((e) => (e as { content?: string }).content === hash);
    process.stdout.write(same ? 'The demo’s part is as it would be made.\n' : `The demo’s part is another: npm run demo-part makes ${hash}.\n`);
    process.exitCode = same ? 0 : 1;
    return;
  }
  for (const folder of ['parts', 'shapes']) {
    rmSync(`${DEMO}${folder}`, { recursive: true, force: true });
    mkdirSync(`${DEMO}${folder}`);
  }
  writeFileSync(`${DEMO}parts/head-beam.step`, step);
  writeFileSync(`${DEMO}shapes/${hash}`, content);
  const without = { ...design, elements: design.elements.filter((e) => e.id !== 'beam') };
  const made = addShapes(without, [{ content: hash, data: part.data, place: frameOf([0, 150, 1800]), colour: 'slate', onto: { member: 'frame' } }]);
  const beam = made.design.elements.at(-1)! as Design['elements'][number] & {
    places: { key: string; kind: string; point: number[]; direction: number[]; size: number }[];
  };
  const bore = (x: number): string => `beam:${beam.places.find((p) => p.kind === 'axis' && p.size === BORE && Math.sign(p.point[0]) === x)!.key}`;
  const under = beam.places.find((p) => p.kind === 'face' && p.direction[2] === -1)!.key;
  const on: Record<string, string> = { 'j-screw1': bore(-1), 'j-screw2': bore(1) };
  const next: Design = {
    ...made.design,
    elements: design.elements.map((e) => (e.id === 'beam' ? ({ ...beam, id: 'beam', name: 'Head beam' } as Design['elements'][number]) : e)),
    joints: design.joints.map((j) =>
      on[j.id] ? { ...j, on: on[j.id] } : j.upperFaces ? { ...j, upperFaces: [j.upperFaces[0], `beam:${under}`] } : j,
    ),
  };
  const { problems } = readDesign(next);
  if (problems) throw new Error(problems[0].message);
  writeFileSync(file, `${JSON.stringify(next, null, 2)}\n`);
  process.stdout.write(`${hash}\n`);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await main();
