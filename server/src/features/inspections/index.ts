export { pictureOf, refuseNotTakenYet } from './commands/photos.ts';
export { withdrawMany } from './commands/withdrawMany.ts';
export { InspectionEntity, ReadingEntity, ServiceEntity, ServiceWithdrawalEntity } from './entities.ts';
export { countOpenQuestions } from './queries/questions.ts';
export { suspicionsAmongRecord } from './judge.ts';
export { paceAmong, usualPaces } from './pace.ts';
export { mountInspections } from './routes.ts';
export { impossibleThickness } from './thickness.ts';
