import type { Express } from 'express';
import type { AppContext } from '../../platform/http/context.ts';
import { mount } from '../../platform/http/mount.ts';
import { fixRow } from './commands/fixRow.ts';
import { commitImport, previewImport } from './commands/takeIn.ts';
import { withdrawImport } from './commands/withdraw.ts';
import { importDetail, listImports, openRowsCsv } from './queries.ts';

export function mountImports(app: Express, context: AppContext): void {
  mount(app, context, 'imports', async ({ em }) => ({ items: await listImports(em) }));
  mount(app, context, 'startImport', async ({ em, actor, run, body }) =>
    body.dryRun ? previewImport(em, actor, body, context.today()) : run(commitImport, body),
  );
  mount(app, context, 'importDetail', async ({ em, params }) => importDetail(em, params.id));
  mount(app, context, 'importRefused', async ({ em, params }, response) => {
    const { fileName, csv } = await openRowsCsv(em, params.id);
    response.setHeader('Content-Disposition', `attachment; filename*=UTF-8''${encodeURIComponent(fileName)}`);
    return csv;
  });
  mount(app, context, 'withdrawImport', async ({ run, params, body }) =>
    run(withdrawImport, { ...body, importId: params.id }),
  );
  mount(app, context, 'fixRow', async ({ run, params, body }) => run(fixRow, { ...params, ...body }));
}
