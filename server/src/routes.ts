import { Router, type Request } from 'express';
import type { AnySchema } from 'yup';
import { ValidationError } from 'yup';
import { CreateRequest, HealthAnswer, ID_PATTERN, SaveRequest, createRequestSchema, saveRequestSchema } from '@unirota/contract';
import { Design, readDesign } from '@unirota/core/design';
import type { Designs } from './designs';
import { Refusal } from './problem';

function idOf(req: Request): string {
  const id = String(req.params.id);
  if (!ID_PATTERN.test(id)) throw new Refusal(404, 'This design does not exist or has been deleted');
  return id;
}

function checked<T>(schema: AnySchema, body: unknown): T {
  try {
    return schema.validateSync(body, { strict: true, abortEarly: false }) as T;
  } catch (e) {
    if (!(e instanceof ValidationError)) throw e;
    throw new Refusal(422, 'The request cannot be taken', {
      problems: (e.inner.length ? e.inner : [e]).map((x) => ({ path: x.path ?? '', message: x.message })),
    });
  }
}

function checkedDesign(document: unknown): Design {
  const read = readDesign(document);
  if (read.problems) throw new Refusal(422, 'The design cannot be saved as it is', { problems: read.problems });
  return read.design;
}

const saveId = (req: Request): string => checked<{ save: string }>(createRequestSchema.pick(['save']), req.body).save;

/** The HTTP interface (docs/http.md): thin handlers over the service. */
export function routes(designs: Designs): Router {
  const r = Router();
  r.get('/health', async (_req, res) => {
    const database = await designs.answers().then(
      () => 'ok' as const,
      () => 'away' as const,
    );
    const body: HealthAnswer = { server: 'ok', database };
    res.status(database === 'ok' ? 200 : 503).json(body);
  });
  r.get('/designs', async (_req, res) => void res.json(await designs.list()));
  r.post('/designs', async (req, res) => {
    const body = checked<CreateRequest>(createRequestSchema, req.body);
    res.status(201).json(await designs.create(checkedDesign(body.design), body.save));
  });
  r.get('/designs/:id', async (req, res) => void res.json(await designs.read(idOf(req))));
  r.put('/designs/:id', async (req, res) => {
    const body = checked<SaveRequest>(saveRequestSchema, req.body);
    res.json(await designs.save(idOf(req), body.base, body.save, checkedDesign(body.design)));
  });
  r.delete('/designs/:id', async (req, res) => {
    await designs.remove(idOf(req));
    res.status(204).end();
  });
  r.post('/designs/:id/copy', async (req, res) => void res.status(201).json(await designs.copy(idOf(req), saveId(req))));
  r.post('/designs/:id/restore', async (req, res) => void res.json(await designs.restore(idOf(req))));
  r.get('/designs/:id/revisions', async (req, res) => void res.json(await designs.revisions(idOf(req))));
  r.get('/designs/:id/revisions/:n', async (req, res) => {
    const n = Number(req.params.n);
    if (!Number.isInteger(n) || n < 1) throw new Refusal(404, 'There is no such revision');
    res.json(await designs.read(idOf(req), n));
  });
  return r;
}
