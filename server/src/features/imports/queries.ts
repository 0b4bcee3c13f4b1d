import {
  type ImportDetail,
  ImportKind,
  type ImportRow,
  ImportSummary,
  type Understanding,
} from '@mile-mark/contract/imports';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { writeCsv } from '../../platform/documents/csv.ts';
import { ApiError } from '../../platform/errors.ts';
import { ImportBatchEntity, ImportRowEntity } from './entities.ts';

const SummarySql = z.object({
  id: z.string(),
  kind: ImportKind,
  file_name: z.string(),
  counts: ImportSummary.shape.counts,
  records: z.number(),
  open: z.number(),
  at: z.string(),
  by: z.string(),
  technician: z.string().nullable(),
  withdrawn: ImportSummary.shape.withdrawn,
});
type SummarySql = z.output<typeof SummarySql>;

async function summaries(em: EntityManager, id?: string, personId?: string): Promise<ImportSummary[]> {
  const rows = await rowsOf(
    em,
    SummarySql,
    `select b.id, b.kind, b.file_name, b.counts, b.records, b.at::text, p.name as by, t.name as technician,
       case when w.id is null then null else json_build_object('at', w.at, 'by', wp.name, 'reason', w.reason) end as withdrawn,
       (select count(*)::int from import_row r where r.import_id = b.id and r.state = 'open') as open
     from import_batch b join person p on p.id = b.person_id left join person t on t.id = b.technician_id
       left join import_withdrawal w on w.import_id = b.id left join person wp on wp.id = w.person_id
     where (?::uuid is null or b.id = ?::uuid) and (?::uuid is null or b.person_id = ?::uuid) order by b.at desc limit 200`,
    [id ?? null, id ?? null, personId ?? null, personId ?? null],
  );
  return rows.map(({ file_name, ...row }) => ({ ...row, fileName: file_name }));
}

/** @param personId of one person only, where they see no others' */
export async function listImports(em: EntityManager, personId?: string): Promise<ImportSummary[]> {
  return summaries(em, undefined, personId);
}

export async function importDetail(em: EntityManager, id: string): Promise<ImportDetail> {
  const [summary] = await summaries(em, id);
  const batch = await em.findOne(ImportBatchEntity, { id });
  if (!summary || !batch) throw new ApiError('not_found', 'There is no such import on record.');
  const rows = await em.find(ImportRowEntity, { importId: id, state: 'open' }, { orderBy: { line: 'asc' } });
  return {
    ...summary,
    header: batch.header,
    rows: rows.map(({ line, cells, outcome, reasons, takeable }) => ({
      line,
      cells,
      outcome: outcome as ImportRow['outcome'],
      taken: false,
      takeable: outcome === 'questioned' && takeable,
      reasons: (reasons as ImportRow['reasons']).map((reason) => ({
        ...reason,
        alsoColumns: reason.alsoColumns ?? [],
      })),
      withoutPlate: [],
      notes: [],
      understood: [],
    })),
  };
}

/** The rows of an import still open, in the form of the file they came from, with the reason in a last column. */
export async function openRowsCsv(em: EntityManager, id: string): Promise<{ fileName: string; csv: string }> {
  const detail = await importDetail(em, id);
  const batch = await em.findOneOrFail(ImportBatchEntity, { id });
  const { delimiter } = batch.understanding as Understanding;
  const rows = detail.rows.map(({ cells, reasons }) => [...cells, reasons.map(({ message }) => message).join(' ')]);
  return {
    fileName: `open rows of ${detail.fileName}`,
    csv: writeCsv([...detail.header, 'why not taken'], rows, delimiter),
  };
}
