import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { basename, dirname, join } from 'node:path';
import { type Assembly, type MemberMotion, memberMotion } from '../core/assembly/index';
import { analyse, run } from '../core/engine';
import type { Design } from '../core/document/index';
import {
  CannotBeMade,
  FLAT_FORMATS,
  type GeometryOptions,
  type Kernel,
  MODEL_FORMATS,
  NothingToWrite,
  type MeshUnit,
  needsUnit,
  partFormatOf,
  SOLID_FORMATS,
  extensionOf,
  geometryOf,
  loadKernel,
} from '../solids/index';
import { type Input, Refused, readInput, readPartsFile, writeTo } from './files';
import { writeDesignZip } from '../core/formats/geometry';
import { runOf } from './report';

type Format = GeometryOptions['format'];
const ALL: readonly Format[] = [...SOLID_FORMATS, ...FLAT_FORMATS, ...MODEL_FORMATS];
/** Extensions that a design can be written as; `stp` is another name of `step`. */
export const FORMATS = ALL.map(extensionOf);
/** A design with its shapes, as one file. */
export const DESIGN_ZIP = 'unirota.zip';

export interface ConvertOptions {
  unit?: 'mm' | 'in';
  /** Of what is read, where its format states none. */
  readAs?: MeshUnit;
  member?: string[];
  kerf?: number;
  backlash?: number;
  gap?: number;
  sheet?: { width: number; height: number };
  run?: boolean;
  threads?: boolean;
}

const FLAT: readonly Format[] = FLAT_FORMATS;
/** What each option is of use for. */
const FOR: Readonly<Record<Exclude<keyof ConvertOptions, 'readAs'>, readonly Format[]>> = {
  unit: ALL.filter((f) => f !== 'glb' && !MODEL_FORMATS.some((m) => m === f)),
  member: [...SOLID_FORMATS, ...FLAT_FORMATS],
  kerf: FLAT,
  backlash: FLAT,
  gap: FLAT,
  sheet: FLAT,
  run: ['glb'],
  threads: SOLID_FORMATS,
};

/** The format that a file's name says, and its ending. */
export function formatOf(path: string): { format: Format; ending: string } | undefined {
  const name = basename(path).toLowerCase();
  const format = ALL.find((f) => name.endsWith(`.${extensionOf(f)}`)) ?? (name.endsWith('.stp') ? 'step' : undefined);
  return format && { format, ending: path.slice(-(name.endsWith('.stp') ? 'stp' : extensionOf(format)).length - 1) };
}

/** The kernel's code beside the program. */
export const kernel = (): Promise<Kernel> =>
  loadKernel({ bytes: readFileSync(createRequire(import.meta.url).resolve('replicad-opencascadejs/wasm')) });

/** Ids of members named by id or name. */
export function membersOf(design: Design, named: readonly string[]): string[] {
  return named.map((n) => {
    if (n === 'frame') return n;
    const m = design.members.find((x) => x.id === n) ?? design.members.find((x) => x.name.toLowerCase() === n.toLowerCase());
    if (!m) throw new Refused(`There is no member ${n}. There are: ${['frame', ...design.members.map((x) => x.name)].join(', ')}.`);
    return m.id;
  });
}

/** What is to be converted: a design, or parts of another format, by its extension. */
async function inputOf(path: string, { readAs }: ConvertOptions): Promise<Input> {
  const format = partFormatOf(path);
  if (readAs !== undefined && !(format && needsUnit(format))) throw new Refused('--read-as is of use for stl alone: the others state their unit.');
  return format ? readPartsFile(path, readAs ?? 'mm', kernel) : readInput(path);
}

/** Writes one file as another by their extensions; gives the files written and what should be known of them. */
export async function convert(from: string, path: string, options: ConvertOptions): Promise<{ files: string[]; notes: string[] }> {
  const input = await inputOf(from, options);
  const { design, shapes } = input;
  const lower = path.toLowerCase();
  if (lower.endsWith('.json') || lower.endsWith(`.${DESIGN_ZIP}`)) {
    const zip = lower.endsWith('.zip');
    if (!zip && input.contents.size) throw new Refused(`${path}: a design with shapes is written as .${DESIGN_ZIP}, which holds them.`);
    writeTo(path, zip ? writeDesignZip(design, input.contents) : `${JSON.stringify(design, null, 2)}\n`);
    return { files: [path], notes: input.notes };
  }
  const named = formatOf(path);
  if (!named) throw new Refused(`${path}: the extension must be one of ${[...FORMATS, 'json', DESIGN_ZIP].join(', ')}.`);
  const { format, ending } = named;
  for (const [key, of] of Object.entries(FOR)) {
    if (options[key as keyof ConvertOptions] !== undefined && !of.includes(format)) {
      throw new Refused(`--${key} is of no use for ${extensionOf(format)}: it is for ${of.map(extensionOf).join(', ')}.`);
    }
  }
  const { compiled, pose } = analyse(design);
  const wanted: GeometryOptions = {
    format,
    unit: options.unit,
    threads: options.threads,
    members: options.member && membersOf(design, options.member),
    cut: { kerf: options.kerf, backlash: options.backlash, gap: options.gap, sheet: options.sheet },
  };
  const ran = options.run ? run(compiled, runOf(design), pose.u) : undefined;
  try {
    const motion = ran && ((a: Assembly): MemberMotion => memberMotion(compiled, pose, a, ran));
    const { files, notes } = await geometryOf(compiled, pose, wanted, kernel, undefined, motion, shapes);
    return {
      files: files.map(({ suffix, bytes }) => {
        const file = join(dirname(path), `${basename(path, ending)}${suffix}${ending}`);
        writeTo(file, bytes);
        return file;
      }),
      notes: [...input.notes, ...notes],
    };
  } catch (e) {
    if (e instanceof NothingToWrite || e instanceof CannotBeMade) throw new Refused(e.message);
    throw e;
  }
}
