// Makes the demo files anew. Needs LibreOffice and Chromium; the files themselves are kept in ../files.
import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { chromium } from 'playwright-core';
import { chromiumPath } from '../../../scripts/chromium.mjs';
import { application, claim, history, survey } from './documents.mjs';
import { budget, costs, crew } from './sheets.mjs';

const here = import.meta.dirname;
const out = join(here, '..', 'files');
const scratch = mkdtempSync(join(tmpdir(), 'ferry-'));

async function drawPictures() {
  const browser = await chromium.launch({ executablePath: chromiumPath(), args: ['--no-sandbox'] });
  for (const name of ['ferry', 'hull-plan']) {
    const svg = readFileSync(join(here, `${name}.svg`), 'utf8');
    const [, width, height] = /width="(\d+)" height="(\d+)"/.exec(svg);
    const page = await browser.newPage({ viewport: { width: Number(width), height: Number(height) } });
    await page.setContent(`<body style="margin:0">${svg}</body>`);
    await page.screenshot({ path: join(out, `${name}.png`) });
    await page.close();
  }
  await browser.close();
  copyFileSync(join(here, 'hull-plan.svg'), join(out, 'hull-plan.svg'));
}

/** An office program opens the flat source and saves it in the format that `extension` names. */
function save(name, flat, extension) {
  const source = join(scratch, `${name}.${extension === 'xlsx' || extension === 'ods' ? 'fods' : 'fodt'}`);
  writeFileSync(source, flat);
  execFileSync(
    'soffice',
    [
      '--headless',
      `-env:UserInstallation=file://${scratch}/profile`,
      '--convert-to',
      extension,
      '--outdir',
      out,
      source,
    ],
    { stdio: 'inherit' },
  );
}

/** The program names no content controls when it saves them in this format, so the names are put in after it. */
function nameSlots(file, names) {
  const parts = unzipSync(readFileSync(file));
  let next = 0;
  const xml = strFromU8(parts['word/document.xml']).replace(/<w:sdtPr>/g, () => {
    const name = names[next++];
    return `<w:sdtPr><w:alias w:val="${name}"/><w:tag w:val="${name.toLowerCase().replaceAll(' ', '-')}"/>`;
  });
  writeFileSync(file, zipSync({ ...parts, 'word/document.xml': strToU8(xml) }));
}

await drawPictures();
const pictures = { ferry: join(out, 'ferry.png'), hullPlan: join(out, 'hull-plan.png') };
save('survey', survey(pictures), 'docx');
save('history', history(pictures), 'odt');
save('application', application(), 'docx');
save('claim', claim(), 'docx');
nameSlots(join(out, 'claim.docx'), ['Claimant', 'Date', 'Amount', 'Work done', 'Receipts enclosed']);
save('costs', costs(), 'xlsx');
save('crew', crew(), 'ods');
save('budget', budget(), 'xlsx');
const page = readFileSync(join(here, 'letters.html'), 'utf8');
writeFileSync(
  join(out, 'letters.html'),
  page.replace('ferry.png', `data:image/png;base64,${readFileSync(pictures.ferry).toString('base64')}`),
);
for (const name of ['log.md', 'sailings.csv', 'claim.html']) copyFileSync(join(here, name), join(out, name));
rmSync(scratch, { recursive: true });
