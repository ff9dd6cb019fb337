import { DEEPEST, type Design, migrate } from '@unirota/core/document';
import { MOST_ELEMENTS, type StrengthModel, changeOfShape, compile, elementsOf, pointAt, strengthBody, strengthModel } from '@unirota/core';
import { greatestStress, readAnswer, readMesh, writeDeck, writeGeometry } from '@unirota/core/formats';
import { type StrengthRequest, type StrengthResult, strengthRequestSchema } from '@unirota/contract/strength';
import { type Refused, designProblems, nestedTooDeep, requestProblems } from '../jobs/reading';

/** What the workers do for a strength model: read the request, write the mesher's script, put the sheet on the mesh, read what the solver found. */

const parse = (body: Uint8Array): StrengthRequest => JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(body)) as StrengthRequest;

/** The script for the mesher, or why there is none. */
export function scriptOf({ body }: { body: Uint8Array }): { script: string } | { problem: string } | Refused {
  if (nestedTooDeep(body, DEEPEST + 2)) return { status: 422, title: 'The request is nested too deep to be a design' };
  let request: StrengthRequest;
  try {
    request = parse(body);
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
  return {
    script: writeGeometry(
      member.parts.flatMap((p) => p.solids),
      request.size,
    ),
  };
}

const bodyOf = ({ design, member }: StrengthRequest): ReturnType<typeof strengthBody> => strengthBody(compile(migrate(design) as Design), member);

function modelOf(body: Uint8Array, mesh: Uint8Array): StrengthModel | { sentence: string } {
  const request = parse(body);
  const found = readMesh(new TextDecoder().decode(mesh));
  if (!found) return { sentence: 'The mesher’s file cannot be read.' };
  const { size, young, poisson } = request;
  return strengthModel(bodyOf(request)!, found, request.lines, { size, material: { young, poisson } });
}

/** The deck for the solver, from the mesher's file. */
export function deckOf({ body, mesh }: { body: Uint8Array; mesh: Uint8Array }): StrengthResult | { problem: string } {
  const model = modelOf(body, mesh);
  if ('sentence' in model) return { problem: model.sentence };
  return {
    deck: writeDeck(model),
    nodes: model.mesh.points.length / 3,
    elements: model.mesh.tets.length / 10,
    sets: model.sets.map((s) => ({ name: s.name, nodes: s.nodes.length, away: s.away })),
    ties: model.ties.map(({ names, gap }) => ({ names, gap })),
  };
}

/** What the solver found, in short. */
export function answerOf({
  body,
  mesh,
  frd,
  dat,
}: {
  body: Uint8Array;
  mesh: Uint8Array;
  frd: Uint8Array;
  dat: Uint8Array;
}): NonNullable<StrengthResult['answer']> | undefined {
  const model = modelOf(body, mesh);
  if ('sentence' in model) return undefined;
  const text = new TextDecoder();
  const answer = readAnswer(text.decode(frd), text.decode(dat), model.mesh.points.length / 3);
  if (!answer) return undefined;
  const { stress, node } = greatestStress(answer);
  const [x, y, z] = pointAt(model.mesh, node);
  return { stress, at: [x, y, z], change: changeOfShape(model.mesh, answer.displacements), carried: answer.carried };
}
