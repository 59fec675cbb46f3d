import { type Drawer, type DrawerTools, type Storage, StoredDrawer } from '../drawer/index.ts';
import { memoryStorage } from './memory.ts';

/** Where a drawer is kept, and what it is handed; each has a default. */
export interface DrawerOptions extends Partial<DrawerTools> {
  /** In memory where none is given: then it lasts as long as the program. */
  readonly storage?: Storage | undefined;
}

/** A drawer in a storage. Without a storage it is an empty one in memory. */
export const createDrawer = ({
  storage = memoryStorage(),
  clock = () => new Date(),
  generateId = () => crypto.randomUUID(),
  files,
}: DrawerOptions = {}): Drawer => new StoredDrawer(storage, { clock, generateId, ...(files && { files }) });
