/** Loaded before a process that runs tests: TypeScript sources as they are, the repository's packages from their sources. */
import { register } from 'node:module';
import 'tsx';

register('./resolve.mjs', import.meta.url);
