import {
  type Assembly,
  type MemberMotion,
  type SheetOptions,
  type Sheets,
  assemblyOf,
  inPlace,
  mechanismOf,
  standing,
  meshed,
  profilesOf,
  sheetsOf,
} from '@unirota/core/assembly';
import { type Compiled, type Pose, poseOf } from '@unirota/core';
import { isShape } from '@unirota/core/elements';
import { NO_SHAPES, type Shapes } from '@unirota/core/shapes';
import type { Id } from '@unirota/core/document';
import type { Kernel } from './kernel';
import type { Progress } from './step';

/** Formats of solid geometry, and of flat parts for cutting, by the extension of their files. */
export const SOLID_FORMATS = ['step', 'stl', '3mf', 'glb'] as const;
export const FLAT_FORMATS = ['dxf', 'svg'] as const;
/** Mechanisms for other engines: a zip of the model and its meshes. */
export const MODEL_FORMATS = ['mjcf', 'urdf', 'sdf'] as const;
export type ModelFormat = (typeof MODEL_FORMATS)[number];
export type SolidFormat = (typeof SOLID_FORMATS)[number];
export type FlatFormat = (typeof FLAT_FORMATS)[number];

export interface GeometryOptions {
  format: SolidFormat | FlatFormat | ModelFormat;
  unit?: 'mm' | 'in';
  /** Only these members; all where none are named. */
  members?: readonly Id[];
  /** Solids: threads of screws and worms are modelled. */
  threads?: boolean;
  /** For flat parts. */
  cut?: SheetOptions;
}

/** A file to be written. */
export interface GeometryFile {
  /** Added to the design's name where there are several. */
  suffix: string;
  /** Without its point. */
  extension: string;
  bytes: Uint8Array<ArrayBuffer>;
}

/** The extension of a format's files: a model and its meshes are one zip. */
export const extensionOf = (format: GeometryOptions['format']): string => (MODEL_FORMATS.some((f) => f === format) ? `${format}.zip` : format);

export interface Geometry {
  files: GeometryFile[];
  /** What the files leave out or should be known of them. */
  notes: string[];
}

/** Nothing of what was asked for has a form that the format holds. */
export class NothingToWrite extends Error {}

/** What writers give is in memory of their own. */
const own = (b: Uint8Array): Uint8Array<ArrayBuffer> => b as Uint8Array<ArrayBuffer>;
const encoded = (text: string): Uint8Array<ArrayBuffer> => own(new TextEncoder().encode(text));

/** Faults of the bodies that are written: what is wrong with them is wrong in the file. */
function faults(compiled: Compiled, written: ReadonlySet<Id>): string[] {
  return compiled.findings.filter((f) => f.severity === 'fault' && f.ids.some((id) => written.has(id))).map((f) => `Fault: ${f.message}`);
}

/** What is not said by the solids themselves. */
const remarks = (a: Assembly): string[] =>
  a.members.flatMap((m) =>
    m.bodies.flatMap((b) => [
      ...(b.remark ? [`${b.name}: ${b.remark}.`] : []),
      ...(b.type === 'bevel-gear' || b.type === 'worm-wheel' ? [`${b.name}: its teeth are approximate.`] : []),
    ]),
  );

/**
 * Files of a design's geometry at a pose: solids (STEP by the kernel, which is loaded when it is needed; STL, 3MF and GLB by our
 * own surfaces), flat parts on sheets (DXF, SVG), or the mechanism (MJCF, URDF, SDF). `motion` goes into GLB. Throws
 * `NothingToWrite` where there is nothing to be written, `CannotBeMade` where a body has no solid.
 */
export async function geometryOf(
  compiled: Compiled,
  pose: Pose,
  options: GeometryOptions,
  kernel: () => Promise<Kernel>,
  progress?: Progress,
  motion?: (a: Assembly) => MemberMotion,
  shapes: Shapes = NO_SHAPES,
): Promise<Geometry> {
  const { format, unit = 'mm', members } = options;
  const extension = extensionOf(format);
  if (format === 'dxf' || format === 'svg') {
    const s = sheets(compiled, options);
    if (!s.drawings.length) throw new NothingToWrite(s.notes.join(' '));
    const { writeDxf, writeSvg } = await import('@unirota/core/geometry');
    const write = format === 'dxf' ? writeDxf : writeSvg;
    return {
      files: s.drawings.map((d, k) => ({ suffix: s.drawings.length > 1 ? ` ${k + 1}` : '', extension, bytes: encoded(write(d, unit)) })),
      notes: s.notes,
    };
  }
  const one = (bytes: Uint8Array, notes: string[]): Geometry => ({ files: [{ suffix: '', extension, bytes: own(bytes) }], notes });
  if (format === 'mjcf' || format === 'urdf' || format === 'sdf') return modelOf(compiled, pose, format, one, shapes);
  const whole = assemblyOf(compiled, pose, members, shapes, options.threads);
  const { assembly, left } = writable(whole, format);
  if (!assembly.members.length) {
    throw new NothingToWrite([...missing(compiled, shapes, members), ...left].join(' ') || 'None of these members has a body yet.');
  }
  const notes = [
    ...missing(compiled, shapes, members),
    ...left,
    ...faults(compiled, new Set(assembly.members.flatMap((m) => m.bodies.map((b) => b.element)))),
    ...remarks(assembly),
  ];
  if (format === 'step') {
    const oc = await kernel();
    const { writeStep } = await import('./step');
    return one(writeStep(oc, assembly, unit, progress), notes);
  }
  const { writeGltf, writeStl, writeThreeMf } = await import('@unirota/core/geometry');
  const surfaces = meshed(assembly);
  if (format === 'stl') return one(writeStl(inPlace(surfaces), unit), notes);
  if (format === '3mf') return one(writeThreeMf(surfaces, unit), notes);
  return one(await writeGltf(surfaces, motion?.(assembly)), notes);
}

/** Shapes whose content is not at hand: files leave them out. */
const missing = (compiled: Compiled, shapes: Shapes, only?: readonly Id[]): string[] =>
  compiled.design.elements.flatMap((e) =>
    isShape(e) && !shapes.has(e.content ?? '') && (!only || only.includes(e.member)) ? [`“${e.name}” is left out: its content is not here.`] : [],
  );

/** What a format can hold of an assembly: STEP takes solids, and shapes that came as such. */
function writable(a: Assembly, format: SolidFormat): { assembly: Assembly; left: string[] } {
  if (format !== 'step') return { assembly: a, left: [] };
  const left: string[] = [];
  const members = a.members.map((m) => ({
    ...m,
    bodies: m.bodies.filter((b) => {
      const mesh = b.content !== undefined && !b.content.step;
      if (mesh) left.push(`“${b.name}” is left out: it came as a mesh, which is no solid. STL, 3MF and glTF hold it.`);
      return !mesh;
    }),
  }));
  return { assembly: { ...a, members: members.filter((m) => m.bodies.length) }, left };
}

/** A model for another engine with its meshes, as a zip. */
async function modelOf(
  compiled: Compiled,
  pose: Pose,
  format: ModelFormat,
  one: (bytes: Uint8Array, notes: string[]) => Geometry,
  shapes: Shapes,
): Promise<Geometry> {
  const { writeMjcf, writeSdf, writeUrdf, zipped } = await import('@unirota/core/geometry');
  // Models are stated in the position in which all joints are at zero.
  const reference = assemblyOf(compiled, poseOf(compiled), undefined, shapes);
  const mechanism = mechanismOf(compiled, pose, reference);
  if (!mechanism.links.length) throw new NothingToWrite('Nothing moves yet.');
  const write = { mjcf: writeMjcf, urdf: writeUrdf, sdf: writeSdf }[format];
  const { xml, files, untaken } = write(mechanism, standing(reference, compiled));
  return one(zipped({ [`${mechanism.name}.${format === 'mjcf' ? 'xml' : format}`]: encoded(xml), ...files }), [
    ...missing(compiled, shapes),
    ...untaken,
  ]);
}

/** The flat parts of a design, laid out. Throws `NothingToWrite` where it has none. */
export function sheets(compiled: Compiled, { members, cut = {} }: GeometryOptions): Sheets {
  const profiles = profilesOf(compiled, cut, members);
  if (!profiles.length) throw new NothingToWrite('None of these members has a part that can be cut from plate.');
  const laid = sheetsOf(compiled, profiles, cut);
  return { ...laid, notes: [...faults(compiled, new Set(profiles.map((p) => p.element))), ...laid.notes] };
}
