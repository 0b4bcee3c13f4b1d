import type { Express } from 'express';
import type { AppContext } from '../http/context.ts';
import { mount } from '../http/mount.ts';
import {
  commitImport,
  importDetail,
  listImports,
  mendRow,
  openRowsCsv,
  previewImport,
} from '../interchange/importer.ts';

export function mountImports(app: Express, context: AppContext): void {
  mount(app, context, 'imports', async ({ em }) => ({ items: await listImports(em) }));
  mount(app, context, 'startImport', async ({ em, actor, body }) => {
    if (body.dryRun) return previewImport(em, actor, body, context.today());
    const { result, vehicleIds } = await commitImport(em, actor, body, context.today());
    if (vehicleIds.length > 0) await context.queue.fleet();
    return result;
  });
  mount(app, context, 'importDetail', async ({ em, params }) => importDetail(em, params.id));
  mount(app, context, 'importRefused', async ({ em, params }, response) => {
    const { fileName, csv } = await openRowsCsv(em, params.id);
    response.setHeader('Content-Disposition', `attachment; filename*=UTF-8''${encodeURIComponent(fileName)}`);
    return csv;
  });
  mount(app, context, 'mendRow', async ({ em, actor, params, body }) => {
    const { row, done, vehicleIds } = await mendRow(em, actor, { ...params, ...body }, context.today());
    await context.queue.vehicles(vehicleIds);
    return { row, done };
  });
}
