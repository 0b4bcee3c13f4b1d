// Writes the published schema of library files anew from the contract: npx tsc -b && node scripts/schema.mjs
import { writeFileSync } from 'node:fs';
import { librarySchema } from '../contract/dist/index.js';

const schema = librarySchema();
writeFileSync(
  new URL('../docs/specification-library.schema.json', import.meta.url),
  `${JSON.stringify(schema, null, 2)}\n`,
);
