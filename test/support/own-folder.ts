import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Tests keep nothing in the folder of whoever runs them: what Drawer has for a person goes to one that is gone afterwards. */
const folder = mkdtempSync(join(tmpdir(), 'drawer-person-'));
process.env.XDG_DATA_HOME = folder;
afterAll(() => rmSync(folder, { recursive: true, force: true }));

// The programs that tests start (`env: process.env`) ask no server: the certificates that a machine may name
// take Node 140 ms to read at every start. Jest's own options are not for them either.
delete process.env.NODE_EXTRA_CA_CERTS;
delete process.env.NODE_OPTIONS;
