export { IMPORTS_ENDPOINTS } from './endpoints.ts';
export {
  ImportKind,
  MOST_IMPORT_BYTES,
  WheelName,
  Understanding,
  RowChoice,
  ImportRequest,
  Outcome,
  ImportRow,
  ImportNeed,
  ImportPreview,
  ImportResult,
  ImportSummary,
  ImportSummaries,
  ImportDetail,
  RowMended,
  RowResult,
} from './schemas.ts';
