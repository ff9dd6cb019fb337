import { Router, type Request } from 'express';
import { type NewRemark, newRemarkSchema, remarkTextSchema, resolveSchema } from '@unirota/contract';
import { personOf } from '../accounts/recognise';
import type { Designs } from '../designs/designs';
import { Refusal } from '../refusal';
import { smallBody } from './body';
import { checked, idIn } from './checked';

const remarkIn = (req: Request): string => idIn(req, 'remark', 'This remark does not exist or has been deleted');
function sinceIn(req: Request): number {
  const since = req.query['since'] ?? '0';
  if (typeof since !== 'string' || !/^\d{1,9}$/.test(since)) throw new Refusal(400, 'since must be the number of a change');
  return Number(since);
}

/** Remarks over HTTP. `changed` is told of each design whose remarks have changed. */
export function remarkRoutes(designs: Designs, changed: (design: string) => void): Router {
  const r = Router();
  r.get('/designs/:id/remarks', async (req, res) => void res.json(await designs.of(personOf(res)).remarks(idIn(req), sinceIn(req))));
  r.post('/designs/:id/remarks', smallBody, async (req, res) => {
    const id = idIn(req);
    res.status(201).json(await designs.of(personOf(res)).addRemark(id, checked<NewRemark>(newRemarkSchema, req.body)));
    changed(id);
  });
  r.put('/designs/:id/remarks/:remark', smallBody, async (req, res) => {
    const id = idIn(req);
    res.json(await designs.of(personOf(res)).changeRemark(id, remarkIn(req), checked<{ text: string }>(remarkTextSchema, req.body).text));
    changed(id);
  });
  r.put('/designs/:id/remarks/:remark/resolved', smallBody, async (req, res) => {
    const id = idIn(req);
    res.json(await designs.of(personOf(res)).resolveRemark(id, remarkIn(req), checked<{ resolved: boolean }>(resolveSchema, req.body).resolved));
    changed(id);
  });
  r.delete('/designs/:id/remarks/:remark', async (req, res) => {
    const id = idIn(req);
    await designs.of(personOf(res)).removeRemark(id, remarkIn(req));
    res.status(204).end();
    changed(id);
  });
  return r;
}
