import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Router, type Request, type Response } from 'express';
import {
  type CreateRequest,
  type ListOrder,
  type NewLink,
  folderSchema,
  labelSchema,
  linkSchema,
  saveIdSchema,
  shareSchema,
  takeLinkSchema,
} from '@unirota/contract';
import type { Audit } from '../accounts/audit';
import { personOf } from '../accounts/recognise';
import { bytesBody, documentBody, smallBody } from './body';
import { checked, idIn, numberIn } from './checked';
import { Refusal } from '../refusal';
import type { Designs, PersonsDesigns } from '../designs/designs';
import type { ListRequest } from '../designs/list';
import type { StoredText } from '../designs/revisions';
import type { Sharing } from '../designs/sharing';

const ORDERS: readonly ListOrder[] = ['saved', 'created', 'name'];
const bytes = (req: Request): Uint8Array => {
  if (!Buffer.isBuffer(req.body)) throw new Refusal(400, 'The request is not JSON');
  return req.body;
};

/** An answer with a document, put together as text: nobody looks into the document here. */
function sendStored(res: Response, { design, ...rest }: StoredText): void {
  const head = JSON.stringify(rest);
  res.type('application/json').send(`${head.slice(0, -1)},"design":${design}}`);
}

function listRequest(req: Request): ListRequest {
  const { order = 'saved', search, after, folder } = req.query;
  if (!ORDERS.includes(order as ListOrder)) throw new Refusal(400, `order must be one of ${ORDERS.join(', ')}`);
  for (const x of [search, after, folder]) {
    if (x !== undefined && (typeof x !== 'string' || x.length > 500)) throw new Refusal(400, 'search, folder and after are texts');
  }
  return {
    order: order as ListOrder,
    search: (search as string | undefined)?.slice(0, 120),
    after: after as string | undefined,
    folder: folder as string | undefined,
  };
}

/** Designs over HTTP (docs/http.md): thin handlers over the service. Each asks it as the person who is signed in. */
export function designRoutes(designs: Designs, largestShape: number): Router {
  const r = Router();
  const mine = (res: Response): PersonsDesigns => designs.of(personOf(res));
  r.get('/designs', async (req, res) => void res.json(await mine(res).list(listRequest(req))));
  r.post('/designs', ...documentBody, async (req, res) => {
    const his = mine(res);
    res.status(201);
    sendStored(res, await his.create(await his.check('create', bytes(req))));
  });
  r.get('/deleted', async (_req, res) => void res.json(await mine(res).deleted()));
  r.get('/folders', async (_req, res) => void res.json(await mine(res).folders()));
  r.put('/designs/:id/folder', smallBody, async (req, res) => {
    await mine(res).file(idIn(req), checked<{ folder: string | null }>(folderSchema, req.body).folder);
    res.status(204).end();
  });
  r.get('/designs/:id', async (req, res) => sendStored(res, await mine(res).read(idIn(req))));
  r.put('/designs/:id', ...documentBody, async (req, res) => void res.json(await mine(res).save(idIn(req), bytes(req))));
  r.post('/designs/:id/aside', ...documentBody, async (req, res) => void res.status(201).json(await mine(res).save(idIn(req), bytes(req), true)));
  r.delete('/designs/:id', async (req, res) => {
    await mine(res).remove(idIn(req));
    res.status(204).end();
  });
  r.get('/designs/:id/sketch', async (req, res) => void res.type('application/json').send(await mine(res).sketch(idIn(req))));
  r.post('/designs/:id/copy', smallBody, async (req, res) => {
    const { save } = checked<Pick<CreateRequest, 'save'>>(saveIdSchema, req.body);
    res.status(201);
    sendStored(res, await mine(res).copy(idIn(req), save));
  });
  r.post('/designs/:id/restore', async (req, res) => sendStored(res, await mine(res).restore(idIn(req))));
  r.get('/designs/:id/revisions', async (req, res) => void res.json(await mine(res).revisions(idIn(req))));
  r.get('/designs/:id/revisions/:n', async (req, res) => sendStored(res, await mine(res).read(idIn(req), numberIn(req, 'n'))));
  r.get('/designs/:id/revisions/:n/sketch', async (req, res) => {
    res.type('application/json').send(await mine(res).revisionSketch(idIn(req), numberIn(req, 'n')));
  });
  r.put('/designs/:id/revisions/:n', smallBody, async (req, res) => {
    const { label } = checked<{ label: string | null }>(labelSchema, req.body);
    await mine(res).label(idIn(req), numberIn(req, 'n'), label?.trim() || null);
    res.status(204).end();
  });
  r.get('/designs/:id/releases', async (req, res) => void res.json(await mine(res).releases(idIn(req))));
  r.post('/designs/:id/releases', ...bytesBody(largestShape), async (req, res) => {
    if (!Buffer.isBuffer(req.body)) throw new Refusal(400, 'The request carries no release');
    res.status(201).json(await mine(res).release(idIn(req), req.body));
  });
  r.get('/designs/:id/releases/:letter/:name', async (req, res) => {
    const { letter, name } = req.params;
    const { size, pieces, hash } = await mine(res).releaseFile(idIn(req), String(letter), String(name));
    res.setHeader('Content-Type', 'application/octet-stream');
    res.setHeader('Content-Length', size);
    res.setHeader('ETag', `"${hash}"`);
    await pipeline(Readable.from(pieces, { objectMode: false }), res);
  });
  r.get('/designs/:id/shapes', async (req, res) => void res.json(await mine(res).shapes(idIn(req))));
  r.get('/designs/:id/shapes/:hash', async (req, res) => {
    const { size, pieces } = await mine(res).shape(idIn(req), String(req.params['hash']));
    res.setHeader('Content-Type', 'application/octet-stream');
    res.setHeader('Content-Length', size);
    // As fast as it is taken: no more than a piece waits here.
    await pipeline(Readable.from(pieces, { objectMode: false }), res);
  });
  r.put('/designs/:id/shapes/:hash', ...bytesBody(largestShape), async (req, res) => {
    if (!Buffer.isBuffer(req.body)) throw new Refusal(400, 'The request carries no content');
    await mine(res).storeShape(idIn(req), String(req.params['hash']), req.body);
    res.status(204).end();
  });
  return r;
}

/** Sharing over HTTP, where people sign in. */
export function sharingRoutes(sharing: Sharing, designs: Designs, audit: Audit): Router {
  const r = Router();
  const NOBODY = 'There is no such person';
  r.get('/designs/:id/shares', async (req, res) => void res.json(await sharing.list(personOf(res), idIn(req))));
  r.put('/designs/:id/shares/:person', smallBody, async (req, res) => {
    const { may } = checked<{ may: 'look' | 'edit' }>(shareSchema, req.body);
    await sharing.give(personOf(res), idIn(req), idIn(req, 'person', NOBODY), may);
    res.status(204).end();
  });
  r.delete('/designs/:id/shares/:person', async (req, res) => {
    await sharing.take(personOf(res), idIn(req), idIn(req, 'person', NOBODY));
    res.status(204).end();
  });
  r.post('/designs/:id/links', smallBody, async (req, res) => {
    res.status(201).json(await sharing.makeLink(personOf(res), idIn(req), checked<NewLink>(linkSchema, req.body)));
  });
  r.delete('/designs/:id/links/:link', async (req, res) => {
    await sharing.endLink(personOf(res), idIn(req), idIn(req, 'link', 'There is no such link'));
    res.status(204).end();
  });
  r.post('/links', smallBody, async (req, res) => {
    res.json({ id: await sharing.takeLink(personOf(res), checked<{ token: string }>(takeLinkSchema, req.body).token) });
  });
  r.get('/designs/:id/audit', async (req, res) => {
    const id = idIn(req);
    // Whoever may edit a design may know who else has been at it.
    if ((await designs.of(personOf(res)).may(id)) === 'look') throw new Refusal(403, 'Only who may edit a design sees who was at it');
    res.json(await audit.list(id, new Date(Date.now() + 1000), personOf(res).id));
  });
  return r;
}
