export { AxleKitNote } from './AxleKitNote.tsx';
export { KitNote } from './KitNote.tsx';
export { KitRow } from './KitRow.tsx';
export { KitOf } from './KitOf.tsx';
