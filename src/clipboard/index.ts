export * from './flavours.ts';
