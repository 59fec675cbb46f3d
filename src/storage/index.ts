export * from './memory.ts';
export * from './work-queue.ts';
