import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { basename, dirname, join } from 'node:path';
import { memberMotion } from '../core/assembly/index';
import { analyse, run } from '../core/engine';
import type { Design } from '../core/document/index';
import {
  FLAT_FORMATS,
  type FlatFormat,
  MODEL_FORMATS,
  type ModelFormat,
  type GeometryOptions,
  type Kernel,
  NothingToWrite,
  SOLID_FORMATS,
  type SolidFormat,
  geometryOf,
  loadKernel,
} from '../solids/index';
import { Refused } from './reading';

/** Extensions that a design can be written as; `stp` is another name of `step`. */
export const FORMATS: readonly string[] = [...SOLID_FORMATS, ...FLAT_FORMATS, ...MODEL_FORMATS.map((f) => `${f}.zip`)];

export interface ConvertOptions {
  unit: 'mm' | 'in';
  member?: string[];
  kerf?: number;
  backlash?: number;
  gap?: number;
  sheet?: { width: number; height: number };
  run?: boolean;
}

/** The format that a file's name says, and the extension that says it. */
export function formatOf(path: string): { format: SolidFormat | FlatFormat | ModelFormat; extension: string } | undefined {
  const name = basename(path).toLowerCase();
  const extension = [...FORMATS, 'stp'].find((f) => name.endsWith(`.${f}`));
  if (!extension) return undefined;
  const format = extension === 'stp' ? 'step' : extension.replace('.zip', '');
  return { format: [...SOLID_FORMATS, ...FLAT_FORMATS, ...MODEL_FORMATS].find((f) => f === format)!, extension: path.slice(-extension.length - 1) };
}

/** The kernel's code beside the program. */
const kernel = (): Promise<Kernel> => loadKernel({ bytes: readFileSync(createRequire(import.meta.url).resolve('replicad-opencascadejs/wasm')) });

/** Ids of members named by id or name. */
function membersOf(design: Design, named: readonly string[]): string[] {
  return named.map((n) => {
    if (n === 'frame') return n;
    const m = design.members.find((x) => x.id === n) ?? design.members.find((x) => x.name.toLowerCase() === n.toLowerCase());
    if (!m) throw new Refused(`There is no member ${n}. There are: ${['frame', ...design.members.map((x) => x.name)].join(', ')}.`);
    return m.id;
  });
}

/** Writes a design's geometry by the extension of a file; gives the files written and what should be known of them. */
export async function convert(design: Design, path: string, options: ConvertOptions): Promise<{ files: string[]; notes: string[] }> {
  const named = formatOf(path);
  if (!named) throw new Refused(`${path}: the extension must be one of ${FORMATS.join(', ')}.`);
  const { format, extension: ext } = named;
  if (options.run && format !== 'glb') throw new Refused('Only a file with the extension glb holds a run.');
  const { compiled, pose } = analyse(design);
  const wanted: GeometryOptions = {
    format,
    unit: options.unit,
    members: options.member && membersOf(design, options.member),
    cut: { kerf: options.kerf, backlash: options.backlash, gap: options.gap, sheet: options.sheet },
  };
  const ran = options.run ? run(compiled, { duration: design.settings?.duration ?? 1, frames: design.settings?.frames ?? 61 }, pose.u) : undefined;
  try {
    const { files, notes } = await geometryOf(compiled, pose, wanted, kernel, () => true, ran && ((a) => memberMotion(compiled, pose, a, ran)));
    return {
      files: files.map(({ suffix, bytes }) => {
        const file = join(dirname(path), `${basename(path, ext)}${suffix}${ext}`);
        writeFileSync(file, bytes);
        return file;
      }),
      notes,
    };
  } catch (e) {
    if (e instanceof NothingToWrite) throw new Refused(e.message);
    throw e;
  }
}
