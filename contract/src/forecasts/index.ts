export { WearChange, ChangeAnswer, Mark } from './changes.ts';
export { FORECASTS_ENDPOINTS } from './endpoints.ts';
export { MileMark, Refresh, MileMarks } from './marks.ts';
export { Validation, type BacktestView, type CalibratedView, type StrainView } from './validation.ts';
export { PadDetail, AxleDetail, MilesPerDay, VehicleDetail, WithoutPooling } from './vehicle.ts';
export { DutyPreview, WhyMark, ForecastInput, MARK_CAUSES, type MarkCause } from './why.ts';
