import { createDrawer, plainText } from 'drawer';
import { followCopies, offeringOf, readCopied, SimulatedDesktop } from 'drawer/desktop';
import fc from 'fast-check';

const words = (text: string) => new Map([['UTF8_STRING', new TextEncoder().encode(text)]]);
const wordsIn = (bytes: Uint8Array | undefined): string => new TextDecoder().decode(bytes);
const editor = { name: 'editor', title: 'log.txt' };
const sheet = { name: 'office-calc', title: 'costs.ods' };

it('carries what a program copies to another, until the next copy', async () => {
  const desktop = new SimulatedDesktop();
  expect(await desktop.copied()).toBeUndefined();
  expect(desktop.paste('UTF8_STRING')).toBeUndefined();
  desktop.bringToFront(editor);
  desktop.copy(words('rope'));
  const before = await desktop.copied();
  expect(before).toMatchObject({ forms: ['UTF8_STRING'], program: editor });
  expect(wordsIn(desktop.paste('text/html', 'UTF8_STRING'))).toBe('rope');
  desktop.copy(words('lamp'));
  expect(await before?.read('UTF8_STRING')).toBeUndefined();
});

it('offers a snippet in the forms of the program in front, and tells of its paste and its end', async () => {
  const desktop = new SimulatedDesktop();
  const content = { shape: 'cells', rows: [[{ type: 'number', value: 12.5, text: '12.50' }]] } as const;
  let pastes = 0;
  const offer = await desktop.offer(await offeringOf(content, new Map()), () => pastes++);
  const workbook = (await desktop.copied())?.forms.find((form) => form.includes('embed-source'));
  expect(workbook).toBeUndefined();
  desktop.bringToFront(sheet);
  const [form = ''] = (await desktop.copied())?.forms ?? [];
  expect(form).toContain('embed-source');
  expect(desktop.paste(form)?.length).toBeGreaterThan(1_000);
  expect(pastes).toBe(1);
  const again = await desktop.offer({ forms: words('x') });
  await offer.gone;
  again.end();
  await again.gone;
  expect(await desktop.copied()).toBeUndefined();
});

it('is followed in order: each copy is kept, or said to be overtaken or passed over', async () => {
  const secret = (text: string) =>
    new Map([...words(text), ['org.nspasteboard.ConcealedType', new Uint8Array()] as const]);
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.record({ isSecret: fc.boolean(), rest: fc.nat(3), isOffer: fc.boolean() }), { maxLength: 12 }),
      async (copies) => {
        const desktop = new SimulatedDesktop();
        const drawer = await createDrawer();
        const told = { passedOver: 0, overtaken: 0 };
        const followed = await followCopies(desktop, {
          keep: async ({ content }) => void (await drawer.keep([{ content, origin: {} }])),
          passedOver: ({ reason, params }) => {
            if (reason === 'clipboard-overtaken') told.overtaken += Number(params.count);
            else told.passedOver++;
            expect(['clipboard-overtaken', 'clipboard-secret']).toContain(reason);
          },
        });
        let offers = 0;
        for (const [number, { isSecret, rest, isOffer }] of copies.entries()) {
          if (isOffer) {
            // Out of a drawer: no copy of a person's.
            desktop.copy(
              (await offeringOf({ shape: 'run', inlines: [{ type: 'text', text: 'own' }] }, new Map())).forms,
            );
            offers++;
          } else desktop.copy(isSecret ? secret(`copy ${number}`) : words(`copy ${number}`));
          for (let turn = 0; turn < rest * 20; turn++) await Promise.resolve();
        }
        await followed.stop();
        const kept = await Promise.all(
          (await drawer.list()).map(async ({ summary }) => plainText((await drawer.get(summary.id)).content)),
        );
        const numbers = kept.map((each) => Number(each.replace('copy ', '')));
        expect(numbers).toEqual([...new Set(numbers)].sort((one, other) => one - other));
        expect(numbers.every((number) => copies[number]?.isSecret === false)).toBe(true);
        // Nothing is lost unsaid.
        const accounted = kept.length + told.passedOver + told.overtaken;
        expect(accounted).toBeLessThanOrEqual(copies.length);
        expect(accounted).toBeGreaterThanOrEqual(copies.length - offers);
        await drawer.close();
      },
    ),
    { numRuns: Number(process.env.RUNS ?? 60) },
  );
});

it('gives what was copied last, whole', async () => {
  const desktop = new SimulatedDesktop();
  desktop.copy(words('The slipway opens at seven.'));
  const copied = await desktop.copied();
  expect(plainText((await readCopied(copied as NonNullable<typeof copied>)).content)).toBe(
    'The slipway opens at seven.',
  );
});
