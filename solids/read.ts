import { CannotRead, LARGEST_FILE, type ReadFile, drawable, isZip, partsOfMeshes, readGltf, readStl, readThreeMf } from '@unirota/core/geometry';
import type { Kernel } from './kernel';
import type { Progress } from './step';

/** Formats of parts that come in, by the extensions of their files. */
export const PART_FORMATS = ['step', 'stp', 'stl', '3mf', 'glb', 'gltf'] as const;
export type PartFormat = (typeof PART_FORMATS)[number];
/** Units that a file without one may be in, mm. */
export const MESH_UNITS = { mm: 1, cm: 10, m: 1000, in: 25.4 } as const;
export type MeshUnit = keyof typeof MESH_UNITS;

/** The format that a file's name says; undefined where it is none of ours. */
export const partFormatOf = (file: string): PartFormat | undefined => {
  const ending = /\.([^.]+)$/.exec(file.toLowerCase())?.[1];
  return PART_FORMATS.find((f) => f === ending);
};

/** Whether a format states no unit, so that it must be asked for. */
export const needsUnit = (f: PartFormat): boolean => f === 'stl';

/** A name without its folder and extension. */
const stem = (file: string): string => file.replace(/^.*[\\/]/, '').replace(/\.[^.]*$/, '') || 'Part';

/**
 * The parts of a file: STEP by the kernel, which is loaded when it is needed; STL, 3MF and glTF as meshes. Throws `CannotRead`
 * with a sentence where it cannot be taken in.
 */
export async function readParts(
  bytes: Uint8Array,
  file: string,
  unit: MeshUnit,
  kernel: () => Promise<Kernel>,
  progress?: Progress,
): Promise<ReadFile> {
  if (!bytes.length) throw new CannotRead('The file is empty.');
  if (bytes.length > LARGEST_FILE) throw new CannotRead(`The file is larger than ${LARGEST_FILE / 1024 / 1024} MiB.`);
  const format = partFormatOf(file);
  const read = await parts(bytes, file, format, unit, kernel, progress);
  const out = await Promise.all(read.parts.map(async (p) => ({ ...p, data: await drawable(p.data) })));
  const thinned = out.filter((p, i) => p.data !== read.parts[i].data).length;
  return {
    parts: out,
    notes: [
      ...read.notes,
      ...(thinned
        ? [`${thinned} ${thinned === 1 ? 'part is' : 'parts are'} drawn more coarsely than stated; mass and places are of the whole.`]
        : []),
    ],
  };
}

async function parts(
  bytes: Uint8Array,
  file: string,
  format: PartFormat | undefined,
  unit: MeshUnit,
  kernel: () => Promise<Kernel>,
  progress?: Progress,
): Promise<ReadFile> {
  switch (format) {
    case 'step':
    case 'stp': {
      const { readStep, stepBegins } = await import('./read-step');
      // Before the kernel is loaded.
      stepBegins(bytes);
      return readStep(await kernel(), bytes, file, progress);
    }
    case 'stl':
      return partsOfMeshes(readStl(bytes, stem(file), MESH_UNITS[unit]), file);
    case '3mf':
      if (!isZip(bytes)) throw new CannotRead('This is no 3MF file.');
      return partsOfMeshes(readThreeMf(bytes), file);
    case 'glb':
    case 'gltf':
      return partsOfMeshes(await readGltf(bytes), file);
    case undefined:
      throw new CannotRead(`Files of this kind are not taken in; these are: ${PART_FORMATS.join(', ')}.`);
  }
}
