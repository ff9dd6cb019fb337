/** The command line `npx unirota` (docs/cli.md). Exit 0: done; 1: something was found; 2: not done. */
import { Command, CommanderError, InvalidArgumentError, Option } from 'commander';
import { CHAPTER_KEYS, analyse, overlaps, quantities, run, sweep, toothCounts } from '../core/engine';
import { writeTable } from '../core/formats/index';
import { PAPERS } from '../core/formats/pdf';
import { DESIGN_ZIP, FORMATS, convert } from './convert';
import { DRAWING_FORMATS, MESH_UNITS, PART_FORMATS } from '../solids/index';
import { Refused, readDesignFile, readInput, writeTo } from './files';
import { writeDrawing, writeReport } from './paper';
import { type PlanOptions, plan } from './plan';
import { rateDesign } from './rate';
import { vibrationTable } from './vibration';
import { jsonText, report, runOf } from './report';
import { writeTables } from './tables';

const say = (text: string): void => void process.stdout.write(text);

/** A number above or from a least value, or what is wrong with it. */
const number =
  (least: number, above = false) =>
  (text: string): number => {
    const v = Number(text);
    if (text.trim() === '' || !Number.isFinite(v) || v < least || (above && v === least)) {
      throw new InvalidArgumentError(`It must be a number ${above ? 'above' : 'from'} ${least}.`);
    }
    return v;
  };
const whole = (text: string): number => {
  const v = Number(text);
  if (!Number.isInteger(v) || v < 2 || v > 20_000) throw new InvalidArgumentError('It must be a whole number from 2 to 20000.');
  return v;
};
/** Tooth counts, or what is wrong with them. */
const counts = (text: string): readonly number[] => {
  const read = toothCounts(text);
  if (typeof read === 'string') throw new InvalidArgumentError(`${read}.`);
  return read;
};
const sheet = (text: string): { width: number; height: number } => {
  const m = /^(\d+(?:\.\d+)?)x(\d+(?:\.\d+)?)$/i.exec(text);
  if (!m || !(Number(m[1]) > 0 && Number(m[2]) > 0)) throw new InvalidArgumentError('It must be width x height in mm, such as 1500x1000.');
  return { width: Number(m[1]), height: Number(m[2]) };
};

/** A text to a file where one is named, else to standard output. */
const put = (text: string, out: string | undefined): void => (out === undefined ? say(text) : writeTo(out, text));

function program(): Command {
  const p = new Command('unirota')
    .description('Analyses, runs and converts designs of drive trains.')
    .exitOverride()
    .configureHelp({ showGlobalOptions: true })
    .addHelpText('after', '\nExit codes: 0 done, 1 done and something was found, 2 not done.\n');
  const out = new Option('-o, --out <file>', 'write to this file instead of standard output');

  p.command('analyse')
    .argument('<design>', 'design document (JSON)')
    .description('print everything the checks say of a design, as JSON; 1 where there is a fault')
    .addOption(out)
    .action((file: string, o: { out?: string }) => {
      const found = report(readDesignFile(file));
      put(jsonText(found), o.out);
      process.exitCode = found.findings.some((f) => f.severity === 'stop') ? 1 : 0;
    });

  p.command('run')
    .argument('<design>', 'design document (JSON)')
    .description('move a design in time and print every quantity at every instant, as CSV; 1 where the run ends early')
    .option('-d, --duration <seconds>', 'duration, s', number(0, true))
    .option('-n, --frames <count>', 'instants', whole)
    .addOption(out)
    .action((file: string, o: { duration?: number; frames?: number; out?: string }) => {
      const design = readDesignFile(file);
      const { compiled, pose } = analyse(design);
      const stated = runOf(design);
      const frames = o.frames ?? stated.frames;
      const r = run(compiled, { duration: o.duration ?? stated.duration, frames }, pose.u);
      const all = quantities(compiled, r);
      const rows = Array.from({ length: r.frames }, (_, f) => [r.time[f], ...all.map((q) => q.at(f))]);
      put(writeTable(['time, s', ...all.map((q) => `${q.label}, ${q.unit}`)], rows), o.out);
      for (const f of r.findings) process.stderr.write(`${f.message}\n`);
      process.exitCode = r.frames < frames ? 1 : 0;
    });

  p.command('sweep')
    .argument('<design>', 'design document (JSON)')
    .description('move the first source from stop to stop and print what it must give at each position, as CSV')
    .option('-n, --frames <count>', 'positions', whole)
    .addOption(out)
    .action((file: string, o: { frames?: number; out?: string }) => {
      const { compiled } = analyse(readDesignFile(file));
      const way = sweep(compiled, o.frames);
      if (!way) throw new Refused('The design has no source to move.');
      const slide = compiled.structure.coordinates[compiled.sources[0].coordinate].motion === 'slide';
      const rows = Array.from(way.position, (at, f) => [at, way.input[f]]);
      put(writeTable([`position, ${slide ? 'mm' : 'turn'}`, `required input, ${slide ? 'N' : 'N·m'}`], rows), o.out);
    });

  p.command('overlap')
    .argument('<design>', 'design document (JSON)')
    .description('print the area in which profiles that mesh overlap at home, as JSON; 1 where there is one')
    .action((file: string) => {
      const found = overlaps(analyse(readDesignFile(file)).pose);
      say(jsonText(found.map(({ coupling, area }) => ({ coupling, area }))));
      process.exitCode = found.length ? 1 : 0;
    });

  p.command('tables')
    .argument('<design>', `design (JSON, or ${DESIGN_ZIP} with its shapes)`)
    .argument('<out>', 'file to write: .xlsx for all tables, .csv for one file each')
    .description('write wanted outputs, ratios, ledger, gear data, meshes and belts, bearings, masses, parts and runs')
    .action(async (file: string, to: string) => {
      say((await writeTables(readDesignFile(file), to)).map((f) => `${f}\n`).join(''));
    });

  p.command('report')
    .argument('<design>', `design (JSON, or ${DESIGN_ZIP} with its shapes)`)
    .argument('<out>', 'file to write: .pdf')
    .description('write the report of a design as PDF: duty, train map, ratios, ledger, gear data, findings, runs, reactions, masses')
    .addOption(new Option('-c, --chapters <key...>', 'only these chapters').choices([...CHAPTER_KEYS]))
    .addOption(new Option('-p, --paper <size>', 'size of the paper').choices(Object.keys(PAPERS)).default('A4'))
    .option('-r, --revision <text>', 'revision that it is of')
    .action(async (file: string, to: string, o: Parameters<typeof writeReport>[2]) => {
      await writeReport(readDesignFile(file), to, o, new Date());
      say(`${to}\n`);
    });

  p.command('rate')
    .argument('<design>', `design (JSON, or ${DESIGN_ZIP} with its shapes)`)
    .description(
      'rate all that a method covers in all load cases and print safeties and lives, worst first, as CSV; 1 where one is below what is wanted',
    )
    .addOption(out)
    .action((file: string, o: { out?: string }) => {
      const { text, notes, failed } = rateDesign(readDesignFile(file));
      put(text, o.out);
      for (const n of notes) process.stderr.write(`${n}\n`);
      process.exitCode = failed ? 1 : 0;
    });

  p.command('vibration')
    .argument('<design>', `design (JSON, or ${DESIGN_ZIP} with its shapes)`)
    .description('natural frequencies with what gives most and what excites each nearest, as CSV; lost motion and wind-up; 1 where there are none')
    .option('--held', 'sources stand still; otherwise they turn with their rotors')
    .addOption(out)
    .action((file: string, o: { out?: string; held?: boolean }) => {
      const { text, notes, trouble } = vibrationTable(readDesignFile(file), o.held === true);
      put(text, o.out);
      for (const n of notes) process.stderr.write(`${n}\n`);
      if (trouble !== undefined) process.stderr.write(`No natural frequencies: ${trouble}.\n`);
      process.exitCode = trouble === undefined ? 0 : 1;
    });

  p.command('plan')
    .argument('<ratio>', 'speed of the output by that of the input: 1/37.3, 0.0268, 5/12')
    .description('search every train of gear pairs whose ratio is near one, and print the best, as CSV; 1 where there is none')
    .addOption(new Option('-p, --pairs <count>', 'pairs one behind the other').choices(['1', '2', '3']).default('2'))
    .option('-t, --teeth <counts>', 'tooth counts: from-to, or a set such as 20,24,25,30', counts, counts('12-120'))
    .option('-w, --within <part>', 'by which part of it the ratio may differ, exactly', '0.001')
    .option('-n, --most <count>', 'so many of the best', whole, 20)
    .addOption(out)
    .action((ratio: string, o: PlanOptions) => {
      const { text, note, count } = plan(ratio, o);
      put(text, o.out);
      process.stderr.write(`${note}\n`);
      process.exitCode = count ? 0 : 1;
    });

  p.command('drawing')
    .argument('<design>', `design (JSON, or ${DESIGN_ZIP} with its shapes)`)
    .argument('<out>', `file to write; its extension is the format: ${DRAWING_FORMATS.join(', ')}`)
    .description('write a drawing: one that the design has, or its general arrangement, or one of a member, or the train map')
    .option('-d, --drawing <name>', 'the drawing of the design with this name or id')
    .option('-m, --member <name>', 'a drawing of this member, by id or name')
    .option('-t, --train-map', 'the train map')
    .option('-r, --revision <text>', 'revision that it is of')
    .action(async (file: string, to: string, o: Parameters<typeof writeDrawing>[2]) => {
      for (const n of await writeDrawing(readInput(file), to, o, new Date())) process.stderr.write(`${n}\n`);
      say(`${to}\n`);
    });

  p.command('convert')
    .argument(
      '<in>',
      `design (JSON, or ${DESIGN_ZIP} with its shapes), mechanism (urdf, xml, mjcf, or a zip with meshes), or parts: ${PART_FORMATS.join(', ')}`,
    )
    .argument('<out>', `file to write; its extension is the format: ${[...FORMATS, 'json', DESIGN_ZIP].join(', ')}`)
    .description('write the geometry of a design: solids at home, or flat parts for cutting; or make a design of parts')
    .addOption(new Option('--read-as <unit>', 'stl: unit of the file that is read; mm where none is stated').choices(Object.keys(MESH_UNITS)))
    .addOption(new Option('-u, --unit <unit>', 'step, stl, 3mf, dxf, svg: unit of the file; mm where none is stated').choices(['mm', 'in']))
    .option('-m, --member <name...>', 'not for models: only these members, by id or name')
    .option('-k, --kerf <mm>', 'dxf, svg: width of the cut; negative where the part is what is cut away', number(-100))
    .option('-b, --backlash <mm>', 'dxf, svg: backlash of a pair; each gear is made thinner by half of it', number(0))
    .option('-g, --gap <mm>', 'dxf, svg: between parts, and from the edges of the sheet', number(0))
    .option('-s, --sheet <size>', 'dxf, svg: width x height of a sheet, mm', sheet)
    .option('-t, --threads', 'step, stl, 3mf, glb: threads of screws and worms are modelled, up to 60 turns')
    .option('-r, --run', 'glb: with the run of the design as an animation')
    .action(async (file: string, to: string, o: Parameters<typeof convert>[2]) => {
      const { files, notes } = await convert(file, to, o);
      for (const n of notes) process.stderr.write(`${n}\n`);
      say(files.map((f) => `${f}\n`).join(''));
    });
  return p;
}

export async function main(argv: readonly string[]): Promise<void> {
  // Whoever reads may have seen enough.
  process.stdout.on('error', (e: NodeJS.ErrnoException) => process.exit(e.code === 'EPIPE' ? 0 : 2));
  try {
    await program().parseAsync(argv);
  } catch (e) {
    if (e instanceof CommanderError) {
      // Help and version are no mistakes.
      process.exitCode = e.exitCode === 0 ? 0 : 2;
      return;
    }
    if (!(e instanceof Refused)) throw e;
    process.stderr.write(`${e.message}\n`);
    process.exitCode = 2;
  }
}
