import { basename } from 'node:path';
import { DrawerError, locate } from '../content/index.ts';
import { type Gathered, originOf } from '../drawer/index.ts';
import { formatOf, type Outline, type Taken } from '../formats/index.ts';
import { type Place, whole } from '../places/index.ts';
import { type FileSource, openFile } from './files.ts';
import { nodeInflate } from './inflate.ts';

const tools = { inflate: nodeInflate };

/**
 * What a place of a file holds. Errors name the file.
 * @throws DrawerError
 */
export const takeFromFile = ({ file, fragment }: Place): Promise<Taken> =>
  withFile(file, async (source) => {
    const format = await (await formatOf(source)).load();
    if (!format.take) throw unreadable(format.name);
    return format.take(source, fragment, tools);
  });

/** The places a file offers. */
export const outlineFile = (file: string): Promise<Outline> =>
  withFile(file, async (source) => {
    const format = await (await formatOf(source)).load();
    if (!format.outline) throw unreadable(format.name);
    return format.outline(source, tools);
  });

/** What was taken from a file as something to keep. */
export const gatheredFrom = (file: string, { content, media, place, title, url, language }: Taken): Gathered => ({
  content,
  media,
  origin: originOf({ file: basename(file), place, title, url }),
  ...(language !== undefined && { language }),
});

/** The whole of a file. */
export const wholeOf = (file: string): Place => ({ file, fragment: whole });

async function withFile<T>(file: string, work: (source: FileSource) => Promise<T>): Promise<T> {
  const source = await openFile(file);
  try {
    return await work(source);
  } catch (error) {
    throw locate(error, file);
  } finally {
    await source.close();
  }
}

const unreadable = (name: string): DrawerError =>
  new DrawerError({
    code: 'unsupported',
    what: `Taking from ${name} files is not served yet`,
    next: 'Drawer takes from .docx, .xlsx and .html files',
  });
