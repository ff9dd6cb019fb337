import type { TDF_Label, TopoDS_Shape } from 'replicad-opencascadejs';
import type { Assembly, Body } from '@unirota/core/assembly';
import { WORLD, linearOfByte, partsOfColour } from '@unirota/core/math';
import { type Solid, massOf } from '@unirota/core/solids';
import { locationOf, solidOf, volumeOf } from './build';
import { type Kernel, Scope, scoped } from './kernel';

export type StepUnit = 'mm' | 'in';

/** Told as bodies are made: how many of how many. */
export type Progress = (done: number, of: number) => void;

/** A body that no solid can be made of, in words. */
export class CannotBeMade extends Error {}

/** Names of the format are plain text; what cannot be said in it goes. */
const named = (name: string): string => name.replace(/\p{Cc}/gu, ' ').trim() || 'Part';

/** How a body is said to be, where its solid is not what is cut: in its name, as STEP has no field for it. */
const remarkOf = (b: Body): string =>
  b.type === 'bevel-gear' ? ' (approximate teeth)' : b.type === 'worm-wheel' ? ' (approximate teeth, cylindrical)' : b.remark ? ` (${b.remark})` : '';

/**
 * STEP (ISO 10303-21, AP214) of an assembly: the design, its members, their bodies, with names and colours, in place. Bodies of
 * the same shape, name and colour are written once.
 */
export function writeStep(
  oc: Kernel,
  assembly: Assembly,
  unit: StepUnit = 'mm',
  progress?: Progress,
  protocol: keyof typeof PROTOCOLS = 'AP214',
): Uint8Array {
  return scoped((s) => {
    const text = (t: string): InstanceType<Kernel['TCollection_ExtendedString']> => s.own(new oc.TCollection_ExtendedString(t, true));
    const doc = s.own(new oc.TDocStd_Document(text('XmlOcaf')));
    oc.XCAFDoc_ShapeTool.SetAutoNaming(false);
    const main = s.own(doc.Main());
    const shapes = s.own(oc.XCAFDoc_DocumentTool.ShapeTool(main)),
      colours = s.own(oc.XCAFDoc_DocumentTool.ColorTool(main));
    const call = (label: TDF_Label, name: string): void => void s.own(oc.TDataStd_Name.Set(label, text(named(name))));
    const known = new Map<string, TDF_Label>();
    /** Shapes that hold what they weigh. */
    const checked = new Set<string>();
    const total = assembly.members.reduce((n, m) => n + m.bodies.length, 0);
    let done = 0;
    const root = s.own(shapes.NewShape());
    call(root, assembly.name);
    for (const m of assembly.members) {
      const own = s.own(shapes.NewShape());
      call(own, m.name);
      for (const b of m.bodies) {
        progress?.(done++, total);
        const key = `${b.shape} ${b.colour} ${b.name}`;
        let label = known.get(key);
        if (!label) {
          // The kernel asks for linear values; the file then holds those of sRGB.
          const [red, green, blue] = partsOfColour(b.colour).map(linearOfByte);
          const colour = s.own(new oc.Quantity_ColorRGBA(red, green, blue, 1));
          const add = (x: Solid, name: string): TDF_Label => {
            const solid = worded(`“${b.name}” cannot be made as a solid`, () => {
              const made = s.own(solidOf(oc, s, { ...x, place: undefined }));
              if (!checked.has(b.shape)) check(oc, made, x);
              return made;
            });
            const one = s.own(shapes.AddShape(solid, false, true));
            colours.SetColor(one, colour, oc.XCAFDoc_ColorType.XCAFDoc_ColorSurf);
            call(one, name);
            return one;
          };
          const name = `${b.name}${remarkOf(b)}`;
          const exact = b.content?.step;
          if (exact) {
            const solid = worded(`“${b.name}” cannot be made as a solid`, () => solidIn(oc, s, exact));
            label = s.own(shapes.AddShape(solid, false, true));
            colours.SetColor(label, colour, oc.XCAFDoc_ColorType.XCAFDoc_ColorSurf);
            call(label, name);
          }
          // The kernel takes a shape that is not at its origin for a reference: places are those of components.
          else if (b.solids.length === 1 && !b.solids[0].place) label = add(b.solids[0], name);
          else {
            // Not every reader takes the colour of several solids down to each of them: they are parts of a body.
            label = s.own(shapes.NewShape());
            call(label, name);
            for (const [i, x] of b.solids.entries()) {
              const part = `${b.name}, ${i + 1}`;
              call(s.own(shapes.AddComponent(label, add(x, part), locationOf(oc, s, x.place ?? WORLD))), part);
            }
          }
          checked.add(b.shape);
          known.set(key, label);
        }
        call(s.own(shapes.AddComponent(own, label, locationOf(oc, s, b.place))), b.name);
      }
      call(s.own(shapes.AddComponent(root, own, locationOf(oc, s, WORLD))), m.name);
    }
    shapes.UpdateAssemblies();
    return write(oc, s, doc, unit, PROTOCOLS[protocol]);
  });
}

/** Application protocols of ISO 10303, by the kernel's own numbers. */
export const PROTOCOLS = { AP203: 3, AP214: 4, AP242: 5 } as const;

/** A solid that holds what it weighs differs from it by no more than this part. */
const AS_WEIGHED = 1e-3;

/** What the kernel throws has no words: these stand for it. Throws `CannotBeMade`. */
export function worded<T>(words: string, work: () => T): T {
  try {
    return work();
  } catch (e) {
    throw e instanceof CannotBeMade ? e : new CannotBeMade(`${words}${e instanceof Error && e.message ? `: ${e.message}` : ''}`);
  }
}

/** Throws where a solid crosses itself, or does not hold what is weighed. */
function check(oc: Kernel, shape: TopoDS_Shape, x: Solid): void {
  const [held, weighed] = [volumeOf(oc, shape), massOf([x], 1e9).mass];
  const analyzer = new oc.BRepCheck_Analyzer(shape, true, false);
  const sound = analyzer.IsValid();
  analyzer.delete();
  if (!sound) throw new Error('its faces cross each other');
  if (Math.abs(held - weighed) <= AS_WEIGHED * weighed) return;
  throw new Error(`it would hold ${held.toPrecision(5)} mm³ where ${weighed.toPrecision(5)} mm³ are weighed`);
}

function write(oc: Kernel, s: Scope, doc: InstanceType<Kernel['TDocStd_Document']>, unit: StepUnit, protocol: number): Uint8Array {
  // Settings of the kernel hold for all that it writes afterwards: each is stated each time. They exist once a writer does.
  s.own(new oc.STEPCAFControl_Writer());
  oc.Interface_Static.SetCVal('xstep.cascade.unit', 'MM');
  oc.Interface_Static.SetCVal('write.step.unit', unit === 'in' ? 'INCH' : 'MM');
  // Curves on surfaces follow from the edges: without them a file is half as long.
  oc.Interface_Static.SetIVal('write.surfacecurve.mode', 0);
  oc.Interface_Static.SetIVal('write.precision.mode', 0);
  oc.Interface_Static.SetIVal('write.step.assembly', 2);
  oc.Interface_Static.SetIVal('write.step.schema', protocol);
  const session = s.own(new oc.XSControl_WorkSession());
  const writer = s.own(new oc.STEPCAFControl_Writer(session, false));
  writer.SetColorMode(true);
  writer.SetLayerMode(true);
  writer.SetNameMode(true);
  const file = 'out.step';
  if (!writer.Perform(doc, file, s.own(new oc.Message_ProgressRange()))) throw new Error('The kernel could not write the STEP file.');
  const bytes = oc.FS.readFile(`/${file}`) as Uint8Array;
  oc.FS.unlink(`/${file}`);
  return bytes;
}

/** What a STEP file holds, as the kernel reads it, mm. Throws where it cannot. */
export function solidIn(oc: Kernel, s: Scope, bytes: Uint8Array): TopoDS_Shape {
  oc.FS.writeFile('/in.step', bytes);
  const reader = s.own(new oc.STEPControl_Reader());
  const status = reader.ReadFile('/in.step') as unknown;
  oc.FS.unlink('/in.step');
  if (status !== 'IFSelect_RetDone') throw new Error('The file cannot be read as STEP.');
  reader.TransferRoots(s.own(new oc.Message_ProgressRange()));
  return s.own(reader.OneShape());
}

/** Volume of the solids in a STEP file, mm³, as the kernel reads it back. */
export const volumeIn = (oc: Kernel, bytes: Uint8Array): number => scoped((s) => volumeOf(oc, solidIn(oc, s, bytes)));
