export * from './memory.ts';
export * from './queue.ts';
