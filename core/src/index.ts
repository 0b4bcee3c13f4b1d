/** What the product computes, a room each: every room's own `index.ts` says what others may use. The plan's is apart (`@mile-mark/core/plan`), as it needs the solver. */
export * from './units/index.ts';
export * from './numeric/index.ts';
export * from './limits/index.ts';
export * from './duty/index.ts';
export * from './measure/index.ts';
export * from './wear/index.ts';
export * from './inspect/index.ts';
export * from './torque/index.ts';
export * from './kits/index.ts';
export * from './simulate/index.ts';
