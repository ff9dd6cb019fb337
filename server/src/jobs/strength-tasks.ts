import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { DEEPEST, migrate } from '@unirota/core/document';
import {
  MOST_ELEMENTS,
  compile,
  elementsOf,
  greatestChange,
  mendMesh,
  pointAt,
  shapeChange,
  strengthBody,
  strengthModel,
  stressField,
} from '@unirota/core';
import { equivalentStresses, greatestStress, readAnswer, readMesh, writeDeck, writeGeometry } from '@unirota/core/formats';
import { type StrengthRequest, type StrengthResult, strengthRequestSchema } from '@unirota/contract/strength';
import { type Refused, designProblems, nestedTooDeep, requestProblems } from './reading';

/**
 * What the workers do for a strength model, in the folder of the run: the request's
 * design is looked into here alone, and what is long stays in files. FILES says which.
 */
export const FILES = {
  request: 'request.json',
  script: 'body.geo',
  mesh: 'body.msh',
  deck: 'body.inp',
  deckAsJson: 'deck.json',
  frd: 'body.frd',
  dat: 'body.dat',
} as const;

/** What a result is without its deck, which may be long. */
export type Summary = Omit<StrengthResult, 'deck' | 'answer'>;

const bodyOf = ({ design, member }: StrengthRequest): ReturnType<typeof strengthBody> => strengthBody(compile(migrate(design)), member);
const requestIn = async (folder: string): Promise<StrengthRequest> =>
  JSON.parse(await readFile(join(folder, FILES.request), 'utf8')) as StrengthRequest;

/** Checks a request and writes the script for the mesher; or why there is none. */
export async function scriptOf({ body, folder }: { body: Uint8Array; folder: string }): Promise<{ solve: boolean } | { problem: string } | Refused> {
  if (nestedTooDeep(body, DEEPEST + 2)) return { status: 422, title: 'The request is nested too deep to be a design' };
  let request: StrengthRequest;
  try {
    request = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(body)) as StrengthRequest;
  } catch {
    return { status: 400, title: 'The request is not JSON' };
  }
  const refused = requestProblems(strengthRequestSchema, request) ?? designProblems(request.design);
  if (refused) return refused;
  const member = bodyOf(request);
  if (!member) return { problem: 'This member stands still with the frame, or is not in the design: choose one that moves.' };
  if (!member.parts.length) return { problem: `${member.name} has no body to mesh: put an element on it.` };
  const count = elementsOf(member.volume, request.size);
  if (count > MOST_ELEMENTS) {
    return {
      problem: `Elements of ${request.size} mm would be about ${Math.round(count / 1000)} thousand; at most ${MOST_ELEMENTS / 1000} thousand are meshed here. Choose larger ones.`,
    };
  }
  const script = writeGeometry(
    member.parts.flatMap((p) => p.solids),
    request.size,
  );
  await Promise.all([writeFile(join(folder, FILES.request), body), writeFile(join(folder, FILES.script), script)]);
  return { solve: request.solve };
}

/** Puts the sheet on the mesh and writes the deck, as it is and as a JSON text. */
export async function deckOf({ folder }: { folder: string }): Promise<Summary | { problem: string }> {
  const request = await requestIn(folder);
  const mesh = readMesh(await readFile(join(folder, FILES.mesh), 'utf8'));
  if (!mesh) return { problem: 'The mesher’s file cannot be read.' };
  const { size, young, poisson } = request;
  const model = strengthModel(bodyOf(request)!, mesh, request.lines, { size, material: { young, poisson } });
  if ('sentence' in model) return { problem: model.sentence };
  const deck = writeDeck(model);
  await Promise.all([writeFile(join(folder, FILES.deck), deck), writeFile(join(folder, FILES.deckAsJson), JSON.stringify(deck))]);
  return {
    nodes: mesh.points.length / 3,
    elements: mesh.tets.length / 10,
    sets: model.sets.map((s) => ({ name: s.name, nodes: s.nodes.length, away: s.away })),
    ties: model.ties.map(({ names, gap }) => ({ names, gap })),
  };
}

/** Numbers as they lie in memory, little-endian, in base 64. */
const packed = (a: Float32Array | Uint32Array): string => Buffer.from(a.buffer, a.byteOffset, a.byteLength).toString('base64');

/** What the solver found, in short and on the mesh; undefined where it found nothing. */
export async function answerOf({ folder }: { folder: string }): Promise<StrengthResult['answer']> {
  const [mesh, frd, dat] = await Promise.all([FILES.mesh, FILES.frd, FILES.dat].map((f) => readFile(join(folder, f), 'utf8').catch(() => '')));
  const read = readMesh(mesh);
  if (!read) return undefined;
  // The deck's nodes are those of the mended mesh.
  mendMesh(read);
  const answer = readAnswer(frd, dat, read.points.length / 3);
  if (!answer) return undefined;
  const equivalent = equivalentStresses(answer),
    change = shapeChange(read, answer.displacements);
  const { stress, node } = greatestStress(equivalent);
  const [x, y, z] = pointAt(read, node);
  const f = stressField(read, equivalent, change);
  const field = { points: packed(f.points), stress: packed(f.stress), change: packed(f.change), tets: packed(f.tets), skin: packed(f.skin) };
  return { stress, at: [x, y, z], change: greatestChange(change), carried: answer.carried, field };
}
