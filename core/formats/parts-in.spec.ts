import { readFileSync } from 'node:fs';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { assemblyOf, inPlace, meshed } from '../assembly/index';
import { analyse } from '../checks/index';
import type { Design } from '../document/index';
import { WORLD } from '../math/index';
import { movedMesh } from '../solids/index';
import { sizeOfMesh } from '../shapes/index';
import { boxMesh, shapeFrom } from '../testing/shapes';
import * as formats from './geometry';

const {
  CannotRead,
  contentHash,
  drawable,
  partsOfMeshes,
  readDesignZip,
  readGltf,
  readShape,
  readStl,
  readThreeMf,
  stepStructure,
  writeDesignZip,
  writeGltf,
  writeShape,
  writeStl,
  writeThreeMf,
} = formats;
const demo = (name: string): Design => JSON.parse(readFileSync(new URL(`../../demo/${name}.json`, import.meta.url), 'utf8')) as Design;
const meshedDemo = (name: string) => {
  const { compiled, pose } = analyse(demo(name));
  return meshed(assemblyOf(compiled, pose));
};
const volumeOf = (meshes: readonly { mesh: Parameters<typeof sizeOfMesh>[0] }[]): number =>
  partsOfMeshes(
    meshes.map((m) => ({ name: 'x', place: WORLD, ...m })),
    'x',
  ).parts.reduce((v, p) => v + p.data.size.volume, 0);

describe('what our writers write comes in again', () => {
  const a = meshedDemo('paddle-winding-gear');
  const bodies = a.members.flatMap((m) => m.bodies);
  const whole = volumeOf(bodies.map((b) => ({ mesh: b.mesh })));

  it('3MF: names, colours and places; the volume to 1e-6', () => {
    const read = readThreeMf(writeThreeMf(a));
    expect(read.map((m) => m.name)).toEqual(bodies.map((b) => b.name));
    expect(read.map((m) => m.colour)).toEqual(bodies.map((b) => b.colour.toLowerCase()));
    expect(volumeOf(read) / whole).toBeCloseTo(1, 6);
    read.forEach((m, i) => m.place.o.forEach((v, k) => expect(v).toBeCloseTo(bodies[i].place.o[k], 5)));
  });

  it('3MF: a material without a colour, or one that is none, gives none; the model of the package is read', () => {
    const whole = unzipSync(writeThreeMf(a));
    const text = strFromU8(whole['3D/3dmodel.model']);
    const read = readThreeMf(
      zipSync({
        'Other/part.model': strToU8('<model><build/></model>'),
        '3D/3dmodel.model': strToU8(text.replace(/displaycolor="[^"]*"/, '').replace(/displaycolor="[^"]*"/, 'displaycolor="red"')),
      }),
    );
    const colours = new Set(bodies.map((b) => b.colour.toLowerCase()));
    expect(new Set(read.map((m) => m.colour)).size).toBe(colours.size - 1);
    expect(read.some((m) => m.colour === undefined)).toBe(true);
    expect(read.every((m) => m.colour === undefined || colours.has(m.colour))).toBe(true);
  });

  it('3MF in inches is as large as in mm', () => expect(volumeOf(readThreeMf(writeThreeMf(a, 'in'))) / whole).toBeCloseTo(1, 5));

  it('glTF: names and places, metres and y up put back; the volume to 1e-5', async () => {
    const read = await readGltf(await writeGltf(a));
    expect(read.map((m) => m.name)).toEqual(bodies.map((b) => b.name));
    expect(volumeOf(read) / whole).toBeCloseTo(1, 5);
    read.forEach((m, i) => {
      for (const axis of ['o', 'x', 'y', 'z'] as const) m.place[axis].forEach((v, k) => expect(v).toBeCloseTo(bodies[i].place[axis][k], 3));
    });
  });

  it('STL: one mesh; the volume to 1e-5, in the unit that is said', () => {
    expect(volumeOf(readStl(writeStl(inPlace(a)), 'x', 1)) / whole).toBeCloseTo(1, 5);
    expect(volumeOf(readStl(writeStl(inPlace(a), 'in'), 'x', 25.4)) / whole).toBeCloseTo(1, 5);
  });
});

describe('STL as text', () => {
  const text = (m: ReturnType<typeof boxMesh>): string => {
    let out = 'solid plate\n';
    for (let t = 0; t < m.triangles.length; t += 3) {
      out += 'facet normal 0 0 0\nouter loop\n';
      for (let k = 0; k < 3; k++) {
        out += `  vertex ${Array.from(m.points.slice(3 * m.triangles[t + k], 3 * m.triangles[t + k] + 3))
          .map((x) => x.toExponential(6))
          .join(' ')}\n`;
      }
      out += 'endloop\nendfacet\n';
    }
    return `${out}endsolid plate\n`;
  };
  it('is read as binary is', () => expect(volumeOf(readStl(strToU8(text(boxMesh(3, 4, 5))), 'x', 10))).toBeCloseTo(60_000, 3));
  it('also where a binary one begins with “solid”', () => {
    const bytes = writeStl([boxMesh(3, 4, 5)]);
    bytes.set(strToU8('solid '));
    expect(volumeOf(readStl(bytes, 'x', 1))).toBeCloseTo(60, 4);
  });
});

describe('stored content', () => {
  const data = shapeFrom(boxMesh(30, 20, 10));
  it('comes back as it was, and the same part has the same name', () => {
    const bytes = writeShape(data);
    expect(contentHash(bytes)).toBe(contentHash(writeShape(structuredClone(data))));
    expect(readShape(bytes, contentHash(bytes))).toEqual(data);
  });
  it('is refused where a byte is another', () => {
    const bytes = writeShape(data);
    const name = contentHash(bytes);
    for (let i = 0; i < bytes.length; i += 37) {
      const bad = bytes.slice();
      bad[i] ^= 0x55;
      expect(() => readShape(bad, name)).toThrow(CannotRead);
      // Without its name it is refused, or read: never anything else.
      try {
        readShape(bad);
      } catch (e) {
        expect(e).toBeInstanceOf(CannotRead);
      }
    }
  });
  it('comes with its design as one file', () => {
    const bytes = writeShape(data);
    const zip = writeDesignZip(demo('screw-gate'), new Map([[contentHash(bytes), bytes]]));
    const read = readDesignZip(zip);
    expect(JSON.parse(read.text)).toEqual(demo('screw-gate'));
    expect([...read.contents]).toEqual([[contentHash(bytes), bytes]]);
    expect(() => readDesignZip(zipSync({ 'design.json': strToU8('{}'), [`shapes/${'0'.repeat(64)}`]: bytes }))).toThrow(/damaged/);
  });
  it('with more triangles than can be drawn is drawn more coarsely; its mass stays', async () => {
    const fine = shapeFrom(
      meshedDemo('paddle-winding-gear')
        .members.flatMap((m) => m.bodies)
        .map((b) => b.mesh)
        .sort((x, y) => y.triangles.length - x.triangles.length)[0],
    );
    const some = Math.floor(fine.mesh.triangles.length / 6);
    const coarse = await drawable(fine, some);
    expect(coarse.mesh.triangles.length).toBeLessThan(fine.mesh.triangles.length);
    expect(coarse.size).toEqual(fine.size);
    expect(await drawable(fine, 1e6)).toBe(fine);
  });
});

describe('a file that is wrong gets one sentence', () => {
  const nan = writeStl([movedMesh(boxMesh(1, 1, 1), { ...WORLD, o: [NaN, 0, 0] })]);
  const many = new Uint8Array(84);
  new DataView(many.buffer).setUint32(80, 1e9, true);
  const model = (xml: string): Uint8Array => zipSync({ '3D/3dmodel.model': strToU8(xml) });
  const triangles = '<triangle v1="0" v2="1" v3="2"/>'.repeat(1000);
  const crowd = `<model><resources><object id="1"><mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="1" z="0"/></vertices><triangles>${triangles}</triangles></mesh></object></resources><build>${'<item objectid="1" transform="2 0 0 0 2 0 0 0 2 0 0 0"/>'.repeat(9000)}</build></model>`;
  const bomb = zipSync({ '3D/3dmodel.model': new Uint8Array(300 * 1024 * 1024) }, { level: 1 });
  const all: [string, () => unknown, RegExp][] = [
    ['an STL without a number', () => shapeOfFirst(readStl(nan, 'x', 1)), /no numbers/],
    ['an STL that states a billion triangles', () => readStl(many, 'x', 1), /1000000000 triangles/],
    ['an STL that is cut short', () => readStl(writeStl([boxMesh(1, 1, 1)]).slice(0, 300), 'x', 1), /cut short/],
    ['an empty STL', () => readStl(strToU8('hello'), 'x', 1), /no STL/],
    ['an STL without triangles', () => readStl(strToU8('solid x\nendsolid x\n'), 'x', 1), /no triangles/],
    ['a 3MF with entities', () => readThreeMf(model('<!DOCTYPE x [<!ENTITY a "b">]><model>&a;</model>')), /entities/],
    ['a 3MF that is no XML', () => readThreeMf(model('<model><object')), /no XML/],
    ['a 3MF that names what is not there', () => readThreeMf(model('<model><build><item objectid="7"/></build></model>')), /not there/],
    [
      'a 3MF whose part is in itself',
      () =>
        readThreeMf(
          model(
            '<model><resources><object id="1"><components><component objectid="1"/></components></object></resources><build><item objectid="1"/></build></model>',
          ),
        ),
      /too deep/,
    ],
    ['a 3MF that puts one large body into ten thousand places', () => readThreeMf(model(crowd)), /more than 4000000 triangles/],
    ['a zip that unpacks to too much', () => readThreeMf(bomb), /larger than/],
    ['a zip that is none', () => readThreeMf(strToU8('PK\u0003\u0004nothing')), /unpacked|no model/],
    ['a STEP file that is none', () => stepStructure('solid'), /no STEP/],
    ['a STEP file that is cut short', () => stepStructure("ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=PRODUCT('a"), /cut short|damaged/],
  ];
  const shapeOfFirst = (m: ReturnType<typeof readStl>): unknown => partsOfMeshes(m, 'x');
  it.each(all)('%s', (_, read, words) => {
    expect(read).toThrow(CannotRead);
    expect(read).toThrow(words);
  });
  it('a glTF that puts one mesh into very many places', async () => {
    const points = Buffer.from(new Float32Array(9 * 3000).buffer).toString('base64');
    const json = {
      asset: { version: '2.0' },
      buffers: [{ uri: `data:application/octet-stream;base64,${points}`, byteLength: 4 * 9 * 3000 }],
      bufferViews: [{ buffer: 0, byteLength: 4 * 9 * 3000 }],
      accessors: [{ bufferView: 0, componentType: 5126, count: 9000, type: 'VEC3' }],
      meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
      nodes: Array.from({ length: 3000 }, () => ({ mesh: 0 })),
    };
    await expect(readGltf(strToU8(JSON.stringify(json)))).rejects.toThrow(/more than 4000000 triangles/);
  });
  it('a stored content whose head is no head, in every part of it', () => {
    const files = unzipSync(writeShape(shapeFrom(boxMesh(3, 2, 1))));
    const head = JSON.parse(strFromU8(files['shape.json'])) as Record<string, unknown>;
    const places = head['places'] as Record<string, unknown>[];
    const wrong: Record<string, unknown>[] = [
      ...Object.keys(head)
        .filter((k) => k !== 'colour')
        .flatMap((k) => [null, 'x', -1, {}, [null]].map((v) => ({ ...head, [k]: v }))),
      ...Object.keys(places[0]).flatMap((k) => [null, 'x', -1, [null]].map((v) => ({ ...head, places: [{ ...places[0], [k]: v }] }))),
      { ...head, colour: 'red' },
    ];
    // A name may be any text.
    for (const h of wrong.filter((x) => x['part'] !== 'x' && x['file'] !== 'x')) {
      expect(() => readShape(zipSync({ ...files, 'shape.json': strToU8(JSON.stringify(h)) })), JSON.stringify(h).slice(0, 200)).toThrow(CannotRead);
    }
  });
  it('a GLB that is damaged, or keeps its data elsewhere', async () => {
    await expect(readGltf(strToU8('glTF....'))).rejects.toThrow(CannotRead);
    await expect(readGltf(strToU8('{"asset":{"version":"2.0"},"buffers":[{"uri":"http://x/y.bin","byteLength":3}]}'))).rejects.toThrow(/other files/);
  });
});

describe('names of a STEP file', () => {
  const step = (data: string): string => `ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n${data}\nENDSEC;\nEND-ISO-10303-21;\n`;
  const body = (n: number, name: string): string =>
    `#${n}=PRODUCT('${name}','${name}','',(#1));#${n + 1}=PRODUCT_DEFINITION_FORMATION('','',#${n});#${n + 2}=PRODUCT_DEFINITION('','',#${n + 1},#1);#${n + 3}=PRODUCT_DEFINITION_SHAPE('','',#${n + 2});#${n + 4}=SHAPE_DEFINITION_REPRESENTATION(#${n + 3},#${n + 5});#${n + 5}=ADVANCED_BREP_SHAPE_REPRESENTATION('',(#${n + 6}),#1);#${n + 6}=MANIFOLD_SOLID_BREP('',#1);`;

  it('are decoded, also with a semicolon, a quote and other alphabets (ISO 10303-21, 6.4.3)', () => {
    const s = stepStructure(step(`/* a; comment */ ${body(10, "Pad''s; \\X2\\00E900F8\\X0\\ \\X\\FC \\S\\d")}`));
    expect(s.parts[0].name).toBe("Pad's; éø ü ä");
  });

  it('are a tree by its usages; a part that is used twice stands there twice', () => {
    const top = `#200=PRODUCT('Gate','Gate','',(#1));#201=PRODUCT_DEFINITION_FORMATION_WITH_SPECIFIED_SOURCE('','',#200,.MADE.);#202=PRODUCT_DEFINITION('','',#201,#1);`;
    const use = (n: number, child: number): string => `#${n}=NEXT_ASSEMBLY_USAGE_OCCURRENCE('${n}','','',#202,#${child},$);`;
    const s = stepStructure(step(`${body(10, 'Leaf')}\n${body(30, 'Bolt')}\n${top}${use(300, 12)}${use(301, 32)}${use(302, 32)}`));
    expect(s.roots).toHaveLength(1);
    expect(s.roots[0].children.map((c) => c.name)).toEqual(['Leaf', 'Bolt', 'Bolt']);
    // The rank of its representation among all entities.
    expect(s.parts.map((p) => p.ranks)).toEqual([[6], [13]]);
  });

  it('that stand in themselves are refused', () => {
    const loop = `${body(10, 'A')}${body(30, 'B')}${body(50, 'C')}#90=NEXT_ASSEMBLY_USAGE_OCCURRENCE('','','',#52,#12,$);#91=NEXT_ASSEMBLY_USAGE_OCCURRENCE('','','',#12,#32,$);#92=NEXT_ASSEMBLY_USAGE_OCCURRENCE('','','',#32,#12,$);`;
    expect(() => stepStructure(step(loop))).toThrow(/too deep/);
  });
});
