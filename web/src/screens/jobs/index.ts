export { DriveNotice } from './DriveNotice.tsx';
export { JobVerbs } from './JobVerbs.tsx';
export { forbidding } from './words.ts';
