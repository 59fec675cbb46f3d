export * from './create-drawer.ts';
export * from './memory.ts';
export * from './work-queue.ts';
