export { mountImports } from './routes.ts';
