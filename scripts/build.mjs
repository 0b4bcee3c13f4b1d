import { ensureBuilt } from './lib/build.mjs';
import { ensureLocal } from './lib/setup.mjs';

ensureLocal();
await ensureBuilt();
