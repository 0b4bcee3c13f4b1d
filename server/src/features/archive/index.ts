export { mountArchive } from './routes.ts';
export { takeInArchive } from './takeIn.ts';
export { writeArchive } from './writeArchive.ts';
