import type { Express, Request as HttpRequest } from 'express';
import { MOST_IMPORT_BYTES } from '@mile-mark/contract/imports';
import type { Pool } from '../../platform/compute/pool.ts';
import { refuseTooLarge } from '../../platform/documents/csv.ts';
import { invalidField } from '../../platform/errors.ts';
import type { AppContext } from '../../platform/http/context.ts';
import { mount } from '../../platform/http/mount.ts';
import { answerDraft, dropFile, putAwayDraft } from './commands/drafts.ts';
import { fixRow } from './commands/fixRow.ts';
import { commitImport, previewImport, takeInDraft } from './commands/takeIn.ts';
import { withdrawImport } from './commands/withdraw.ts';
import { createDesk } from './desk.ts';
import { cellsWithoutPlate, draftRows, listDrafts, previewDraft } from './draftQueries.ts';
import { bytesOf } from './look.ts';
import { importDetail, listImports, openRowsCsv } from './queries.ts';
import { readInPool } from './readInPool.ts';
import { refuseElsewhere, refuseLibraryJson } from './understand/elsewhere.ts';
import { headingOf } from './understand/heading.ts';
import { mapColumns } from './understand/understand.ts';

export function mountImports(app: Express, context: AppContext & { pool: Pool }): void {
  const { pool } = context;
  mountDrafts(app, context);
  mount(app, context, 'imports', async ({ em, actor, reach }) => ({
    items: await listImports(em, reach && actor.id),
  }));
  mount(app, context, 'startImport', async ({ em, actor, run, body }) => {
    const { encoding, delimiter, sheet: chosen } = body.understanding ?? {};
    const sheet = await readInPool(pool, bytesOf(body), { encoding, delimiter, sheet: chosen });
    const whole = { request: body, sheet };
    return body.dryRun ? previewImport(em, actor, whole, context.today()) : run(commitImport, whole);
  });
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

/** Files that wait to be taken in. */
function mountDrafts(app: Express, context: AppContext & { pool: Pool }): void {
  const desk = createDesk(context.pool);
  mount(app, context, 'importDrafts', async ({ em, actor, reach }) => ({
    items: await listDrafts(em, reach && actor.id),
  }));
  mount(app, context, 'dropFile', async ({ run, query: { id, fileName } }, { req }) => {
    const content = await sentFile(req);
    refuseLibraryJson(content);
    try {
      const sheet = await desk.drop(id, content);
      refuseElsewhere(sheet);
      const { kind } = mapColumns(sheet, headingOf(sheet.rows, {}), {});
      return await run(dropFile, { id, fileName, kind, content });
    } catch (error) {
      // What was not kept does not lie there for the file that has this id already.
      desk.clear(id);
      throw error;
    }
  });
  mount(app, context, 'importDraft', async ({ em, params }) => previewDraft(em, desk, params.id, context.today()));
  mount(app, context, 'draftRows', async ({ em, params, query }) => draftRows(em, desk, params.id, query));
  mount(app, context, 'answerDraft', async ({ run, params, body }) => {
    const { withoutPlate, ...said } = body;
    const cells = withoutPlate && (await cellsWithoutPlate(desk, params.id, withoutPlate));
    return run(answerDraft, { ...params, ...said, edits: { ...cells, ...said.edits } });
  });
  mount(app, context, 'putAwayDraft', async ({ run, params }) => {
    await run(putAwayDraft, params);
    desk.clear(params.id);
    return null;
  });
  mount(app, context, 'takeInDraft', async ({ run, params, body }) => {
    const result = await run(takeInDraft, { ...body, draftId: params.id, desk });
    desk.clear(params.id);
    return result;
  });
  mount(app, context, 'draftProgress', async ({ params }) => desk.progressOf(params.id));
  mount(app, context, 'stopDraft', async ({ params }) => ({ stopped: desk.stop(params.id) }));
}

/** The file that is sent, once it is known who sends it. */
async function sentFile(request: HttpRequest): Promise<Uint8Array> {
  const parts: Uint8Array[] = [];
  let size = 0;
  if (request.is('application/octet-stream'))
    for await (const part of request as AsyncIterable<Uint8Array>) {
      size += part.length;
      if (size > MOST_IMPORT_BYTES) refuseTooLarge({ byteLength: size });
      parts.push(part);
    }
  if (size === 0) throw invalidField('file', 'The file is empty; it is sent as it is, as application/octet-stream.');
  return Buffer.concat(parts);
}
