/**
 * 3MF core specification 1.3: a zip with a model of objects, components and build items; colours as base materials, names
 * kept.
 */
import { strToU8, zipSync } from 'fflate/browser';
import type { Mesh } from '../solids/index';
import type { MeshedAssembly, MeshedBody } from '../assembly/index';
import { type DrawingUnit, UNIT, xmlText } from './drawing';

const n = (x: number): string => String(Number(x.toFixed(7)) || 0);

/** Rows of the transform: images of x, y, z, then the origin (section 3.3 of the specification, row vectors). */
const transform = ({ place: { x, y, z, o } }: MeshedBody, k: number): string => [...x, ...y, ...z, ...o.map((v) => v * k)].map(n).join(' ');

export function writeThreeMf(a: MeshedAssembly, unit: DrawingUnit = 'mm'): Uint8Array {
  const k = 1 / UNIT[unit];
  const colours = [...new Set(a.members.flatMap((m) => m.bodies.map((b) => b.colour.toUpperCase())))];
  const objects: string[] = [];
  const items: string[] = [];
  let id = 1;
  /** A mesh is written once for each colour and name. */
  const known = new Map<Mesh, Map<string, number>>();
  const object = (b: MeshedBody): number => {
    const key = `${b.colour} ${b.name}`;
    const had = known.get(b.mesh)?.get(key);
    if (had !== undefined) return had;
    const own = ++id;
    const { points: p, triangles: t } = b.mesh;
    const vertices: string[] = [];
    for (let i = 0; i < p.length; i += 3) vertices.push(`<vertex x="${n(p[i] * k)}" y="${n(p[i + 1] * k)}" z="${n(p[i + 2] * k)}"/>`);
    const faces: string[] = [];
    for (let i = 0; i < t.length; i += 3) faces.push(`<triangle v1="${t[i]}" v2="${t[i + 1]}" v3="${t[i + 2]}"/>`);
    const colour = colours.indexOf(b.colour.toUpperCase());
    objects.push(
      `<object id="${own}" type="model" name="${xmlText(b.name)}" pid="1" pindex="${colour}"><mesh><vertices>${vertices.join('')}</vertices><triangles>${faces.join('')}</triangles></mesh></object>`,
    );
    known.set(b.mesh, (known.get(b.mesh) ?? new Map<string, number>()).set(key, own));
    return own;
  };
  for (const m of a.members) {
    const parts = m.bodies.map((b) => `<component objectid="${object(b)}" transform="${transform(b, k)}"/>`);
    const own = ++id;
    objects.push(`<object id="${own}" type="model" name="${xmlText(m.name)}"><components>${parts.join('')}</components></object>`);
    items.push(`<item objectid="${own}"/>`);
  }
  const model = `<?xml version="1.0" encoding="UTF-8"?>
<model unit="${unit === 'mm' ? 'millimeter' : 'inch'}" xml:lang="en" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><metadata name="Title">${xmlText(a.name)}</metadata><metadata name="Application">Unirota</metadata><resources><basematerials id="1">${colours.map((c) => `<base name="${c}" displaycolor="${c}"/>`).join('')}</basematerials>${objects.join('')}</resources><build>${items.join('')}</build></model>`;
  return zipSync({
    '[Content_Types].xml': strToU8(
      '<?xml version="1.0" encoding="UTF-8"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>',
    ),
    '_rels/.rels': strToU8(
      '<?xml version="1.0" encoding="UTF-8"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>',
    ),
    '3D/3dmodel.model': strToU8(model),
  });
}
