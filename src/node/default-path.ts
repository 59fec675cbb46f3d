import { join } from 'node:path';
import envPaths from 'env-paths';

/** Where a user's drawer is when nothing else is said: in the folder for data of the user's system. */
export const defaultDrawerPath = (): string => join(envPaths('drawer', { suffix: '' }).data, 'default.drawer');
