// Keeping and finding, each beside its floor: many small works, timed one by one or together.
import { closeSync, fsyncSync, mkdtempSync, openSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bigDrawer, gatherings, heavyDrawer, keystrokes, manyLanguages, smallDrawer } from './generate.mjs';

const percentile = (times, share) => times.toSorted((one, other) => one - other)[Math.floor(times.length * share)];

/** The 95th percentile of many works, or the longest, in milliseconds. */
async function each(works, work, share = 0.95) {
  const times = [];
  for (const one of works) {
    const start = performance.now();
    await work(one);
    times.push(performance.now() - start);
  }
  return { result: 1, milliseconds: share === 1 ? Math.max(...times) : percentile(times, share) };
}

/** A file of its own that is gone when the work is done. */
async function inScratch(work) {
  const folder = mkdtempSync(join(tmpdir(), 'drawer-bench-'));
  try {
    return await work(join(folder, 'scratch'));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

const open = async (path) => (await import('../dist/node/index.js')).openDrawer(path);

/** What is loaded only to keep something: done before the time counts. */
const keepingLoaded = () =>
  inScratch(async (path) => {
    const drawer = await open(path);
    await drawer.keep(gatherings(1));
    await drawer.close();
  });

/** Every text of a drawer, as a plain scan looks through it. */
async function allTexts(path) {
  const { default: Database } = await import('libsql');
  const { foldWords } = await import('../dist/drawer/index.js');
  const database = new Database(path);
  const texts = database
    .prepare('SELECT content FROM snippet ORDER BY row DESC')
    .all()
    .map(({ content }) => foldWords(JSON.parse(content).inlines[0].text).join(' '));
  database.close();
  return texts;
}

/** The same look at a drawer sixty times; the median. */
const look = (path, work) => ({
  prepare: async () => {
    const drawer = await open(await path());
    return async () => {
      const times = await each(Array.from({ length: 60 }), () => work(drawer), 0.5);
      await drawer.close();
      return times;
    };
  },
  expected: 1,
});

const find = (share) => ({
  prepare: async () => {
    const drawer = await open(await manyLanguages());
    return () => each(keystrokes(), (words) => drawer.find(words.split(' '), 50), share);
  },
  expected: 1,
});

/** Times one part of keeping 10,000 in a new drawer. */
const keeping = (timed, before = () => undefined) => ({
  prepare: async () => {
    const all = gatherings(10_000);
    await keepingLoaded();
    return () =>
      inScratch(async (path) => {
        const drawer = await open(path);
        await before(drawer, all);
        const start = performance.now();
        await timed(drawer, all);
        const milliseconds = performance.now() - start;
        await drawer.close();
        const again = await open(path);
        const result = await again.count();
        await again.close();
        return { result, milliseconds };
      });
  },
  expected: 10_000,
});

/** Puts the rows that keeping 10,000 makes into a drawer's tables by bare statements, so many in a transaction. */
const bareRows = (each) => ({
  prepare: async () => {
    const all = gatherings(10_000);
    const { default: Database } = await import('libsql');
    const rowsOf = (database, table) =>
      database
        .prepare(`SELECT * FROM ${table}`)
        .all()
        .map((row) => Object.values(row));
    const { snippets, actions } = await inScratch(async (path) => {
      const drawer = await open(path);
      if (each === 1) for (const one of all) await drawer.keep([one]);
      else await drawer.keep(all);
      await drawer.close();
      const database = new Database(path);
      const rows = { snippets: rowsOf(database, 'snippet'), actions: rowsOf(database, 'action') };
      database.close();
      return rows;
    });
    return () =>
      inScratch(async (path) => {
        await (await open(path)).close();
        const database = new Database(path);
        database.exec('PRAGMA synchronous = FULL; PRAGMA secure_delete = ON; PRAGMA wal_autocheckpoint = 4000');
        const insert = (table, count) =>
          database.prepare(`INSERT INTO ${table} VALUES (${Array(count).fill('?').join(', ')})`);
        const [keep, act] = [insert('snippet', snippets[0].length), insert('action', actions[0].length)];
        const start = performance.now();
        for (let from = 0; from < snippets.length; from += each) {
          database.exec('BEGIN IMMEDIATE');
          for (const row of snippets.slice(from, from + each)) keep.run(row);
          act.run([from + 1, ...actions[from % actions.length].slice(1)]);
          database.exec('COMMIT');
        }
        const milliseconds = performance.now() - start;
        database.close();
        return { result: 1, milliseconds };
      });
  },
  expected: 1,
});

export const keepingTasks = {
  'find, 95th percentile': find(0.95),
  'find, longest': find(1),
  'plain scan, 95th percentile': {
    prepare: async () => {
      const texts = await allTexts(await manyLanguages());
      const { foldWords } = await import('../dist/drawer/index.js');
      return () =>
        each(keystrokes(), (typed) => {
          const words = foldWords(typed);
          const hits = [];
          for (const text of texts) {
            if (words.every((word) => text.includes(word))) hits.push(text);
            if (hits.length === 50) break;
          }
        });
    },
    expected: 1,
  },
  'open and first page': {
    prepare: async () => {
      const path = await bigDrawer();
      const { openDrawer } = await import('../dist/node/index.js');
      return async () => {
        const drawer = await openDrawer(path);
        const { length } = await drawer.list(1, 50);
        await drawer.close();
        return length;
      };
    },
    expected: 50,
  },
  'bare query': {
    prepare: async () => {
      const path = await bigDrawer();
      const { default: Database } = await import('libsql');
      return () => {
        const database = new Database(path);
        const rows = database.prepare('SELECT head FROM snippet ORDER BY "order" LIMIT 50').all();
        const heads = rows.map(({ head }) => JSON.parse(head));
        database.close();
        return heads.length;
      };
    },
    expected: 50,
  },
  'page at 100': look(smallDrawer, (drawer) => drawer.list(1, 50)),
  'page at 100,000': look(bigDrawer, (drawer) => drawer.list(90_000, 50)),
  'next at 100': look(smallDrawer, (drawer) => drawer.sequence()),
  'next at 100,000': look(bigDrawer, (drawer) => drawer.sequence()),
  'gathers, each durable': keeping(async (drawer, all) => {
    for (const one of all) await drawer.keep([one]);
  }),
  'gathers at once, each durable': keeping((drawer, all) => Promise.all(all.map((one) => drawer.keep([one])))),
  'their rows, a transaction each': bareRows(1),
  'their rows in one transaction': bareRows(10_000),
  'append and fsync': {
    prepare: async () => {
      const all = gatherings(10_000).map((one) => JSON.stringify(one));
      return () =>
        inScratch(async (path) => {
          const file = openSync(path, 'a');
          const start = performance.now();
          for (const one of all) {
            writeSync(file, one);
            fsyncSync(file);
          }
          const milliseconds = performance.now() - start;
          closeSync(file);
          return { result: 1, milliseconds };
        });
    },
    expected: 1,
  },
  'import of 10,000': keeping((drawer, all) => drawer.keep(all)),
  'their words into the index': keeping(
    (drawer) => drawer.close(),
    (drawer, all) => drawer.keep(all),
  ),
  'bare inserts of 10,000': {
    prepare: async () => {
      const all = gatherings(10_000).map((one) => JSON.stringify(one));
      const { default: Database } = await import('libsql');
      return () =>
        inScratch((path) => {
          const database = new Database(path);
          database.exec('PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; PRAGMA secure_delete = ON');
          database.exec('CREATE TABLE snippet (id TEXT PRIMARY KEY, "order" TEXT, content TEXT)');
          database.exec('CREATE INDEX snippet_order ON snippet ("order"); BEGIN');
          const insert = database.prepare('INSERT INTO snippet VALUES (?, ?, ?)');
          for (const [at, one] of all.entries()) insert.run(`id-${at}`, `a${String(at).padStart(6, '0')}`, one);
          database.exec('COMMIT');
          database.close();
          return all.length;
        });
    },
    expected: 10_000,
  },
  'moves into one gap': {
    prepare: async () => {
      const all = gatherings(1000);
      await import('../dist/node/index.js');
      return () =>
        inScratch(async (path) => {
          const drawer = await open(path);
          await drawer.keep(all);
          const start = performance.now();
          for (let turn = 0; turn < 100_000; turn++) {
            const [third] = await drawer.list(3, 1);
            await drawer.move([third.summary.id], 2);
          }
          const milliseconds = performance.now() - start;
          const keys = (await drawer.list(1, 1000)).map(({ summary }) => summary.order.length);
          await drawer.close();
          return { result: Math.max(...keys) <= 64 ? 1 : Math.max(...keys), milliseconds };
        });
    },
    expected: 1,
  },
  'list of a gigabyte': {
    prepare: async () => {
      const path = await heavyDrawer();
      const drawer = await open(path);
      return async () => (await drawer.list(1, 1000)).length;
    },
    expected: 1000,
  },
};

export const keepingRows = [
  {
    what: 'find in 100,000 snippets of five languages, each keystroke, 95th percentile',
    task: 'find, 95th percentile',
    floor: 'plain scan, 95th percentile',
    floorSays: 'a plain scan of their words in memory, to the 50th hit',
    mostMilliseconds: 10,
  },
  {
    what: 'the longest of them',
    task: 'find, longest',
    floor: 'plain scan, 95th percentile',
    floorSays: 'the same',
    mostMilliseconds: 50,
  },
  {
    what: 'open a drawer of 100,000 and list its first page',
    task: 'open and first page',
    floor: 'bare query',
    floorSays: 'the database opened, 50 rows read and parsed',
    goal: 1.5,
    mostMilliseconds: 10,
  },
  {
    what: 'list a page at 90,000 of 100,000',
    task: 'page at 100,000',
    floor: 'page at 100',
    floorSays: 'the first page of 100',
    goal: 1.5,
  },
  {
    what: 'what comes next of 100,000',
    task: 'next at 100,000',
    floor: 'next at 100',
    floorSays: 'what comes next of 100',
    goal: 1.5,
  },
  {
    what: '10,000 gathers, each durable',
    task: 'gathers, each durable',
    floor: 'append and fsync',
    floorSays: 'append to a file and fsync',
    goal: 1.5,
  },
  {
    what: 'the same, were each fsync to take 2 ms longer, as on a disk of one’s own',
    task: 'gathers, each durable',
    floor: 'append and fsync',
    floorSays: 'append to a file and fsync',
    goal: 1.5,
    mostRounds: 1,
    slowFsync: true,
  },
  {
    what: 'their rows alone put into the same tables by bare statements',
    task: 'their rows, a transaction each',
    floor: 'append and fsync',
    floorSays: 'append to a file and fsync',
  },
  {
    what: '10,000 gathers handed over at once, each durable when it is told of',
    task: 'gathers at once, each durable',
    floor: 'append and fsync',
    floorSays: 'append to a file and fsync',
    goal: 1.5,
  },
  {
    what: 'the same, were each fsync to take 2 ms longer',
    task: 'gathers at once, each durable',
    floor: 'append and fsync',
    floorSays: 'append to a file and fsync',
    goal: 1.5,
    mostRounds: 1,
    slowFsync: true,
  },
  {
    what: 'an import of 10,000 in one transaction',
    task: 'import of 10,000',
    floor: 'bare inserts of 10,000',
    floorSays: 'bare inserts of the same words, with a key and an order',
    goal: 1.5,
  },
  {
    what: 'its rows alone put into the same tables by bare statements',
    task: 'their rows in one transaction',
    floor: 'bare inserts of 10,000',
    floorSays: 'the same',
  },
  {
    what: 'their words put into the index behind it, in a pause or before the program ends',
    task: 'their words into the index',
    floor: 'bare inserts of 10,000',
    floorSays: 'the same',
  },
  {
    what: 'move 100,000 times into one gap (order keys stay within 64 letters)',
    task: 'moves into one gap',
    floor: 'append and fsync',
    floorSays: 'append to a file and fsync, 10,000 times',
    mostRounds: 1,
  },
  {
    what: 'list 1,000 snippets of a drawer of a gigabyte (at most 100 MB)',
    task: 'list of a gigabyte',
    floor: 'page at 100',
    floorSays: 'the first page of 100',
  },
];
