import { Router } from 'express';
import type pg from 'pg';

/** For whoever watches the server: it answers (`/healthz`), and it can work (`/readyz`: its database answers too). */
export function healthRoutes(pool: pg.Pool): Router {
  const router = Router();
  router.get('/healthz', (_request, response) => {
    response.json({ ok: true });
  });
  router.get('/readyz', (_request, response) => {
    pool
      .query('select 1')
      .then(() => response.json({ ok: true }))
      .catch(() => response.status(503).json({ ok: false, why: 'the database does not answer' }));
  });
  return router;
}
