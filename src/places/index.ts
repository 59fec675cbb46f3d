export * from './fragment.ts';
export * from './parse.ts';
export * from './print.ts';
