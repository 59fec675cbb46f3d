export * from './change.ts';
export * from './drawer.ts';
export * from './exchange.ts';
export * from './facts.ts';
export * from './references.ts';
export * from './schema.ts';
export * from './snippet.ts';
export * from './storage.ts';
