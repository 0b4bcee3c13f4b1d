import { test } from '../support/app.ts';
import { declareSpecificationWalks } from '../support/specificationWalks.ts';

/** The same on a tablet, with an application of its own. */

const TABLET = { width: 1024, height: 768 };
test.use({ viewport: TABLET, hasTouch: true, options: { demo: true, today: '2026-11-20', port: 0 } });

declareSpecificationWalks(TABLET);
