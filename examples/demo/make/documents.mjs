// What the documents of the ferry trust say. The trust, its people, firms and figures are invented.
import {
  bold,
  bookmark,
  box,
  deleted,
  footnote,
  heading,
  inserted,
  italic,
  link,
  list,
  marked,
  paragraph,
  picture,
  quotation,
  raised,
  slot,
  table,
  textDocument,
  title,
  trackedChanges,
} from './odf.mjs';

export const survey = (files) =>
  textDocument(
    'Survey of the ferry Marigold',
    [
      title('Survey of the ferry Marigold'),
      paragraph(
        `Made on the slip at Tern Quay for the Marigold Ferry Trust. Lengths are in metres, moisture in per cent of dry weight. The vessel was out of the water from ${marked('4 to 8 May 2026')}.`,
      ),
      heading(1, 'Summary'),
      paragraph(
        `The ferry is ${bold('worth restoring')}. Her frames are sound but for two, and the planking below the waterline needs renewing over about 14 m${raised('2')}. With the work in section ${italic('Costs and order of work')} done she can carry passengers again.`,
      ),
      paragraph(
        `The terms used here are explained on the ${link('trust’s page of words', 'https://ferry.example/words')}.`,
      ),
      heading(1, 'Hull condition'),
      paragraph(
        `The hull is carvel built of larch on oak frames, fastened with copper.${footnote('The builder’s note of 1911 gives elm for the keel; what we found is oak.')} We sounded every plank with a hammer and took moisture readings at forty points.`,
      ),
      paragraph(
        `Between frames 2 and 4 on the port side the planks are soft to a depth of ${bold('12 mm')}. ${inserted('The reviewer found the same at frame 7. ')}${deleted}The caulking there has gone.`,
      ),
      list('Bullets', [
        'Keel and stem: sound, with a shake of 40 cm near the foot of the stem',
        [
          'Planking below the waterline',
          list('Bullets', ['port side: eleven planks to renew', 'starboard side: four planks to renew'], true),
        ],
        'Fastenings: one in five wasted',
      ]),
      table('Readings', [
        ['Frame', 'Side', 'Moisture', 'Condition'],
        [{ text: '2', down: 2 }, 'port', { text: '31.5 %', end: true }, 'soft'],
        [null, 'starboard', { text: '19.0 %', end: true }, 'sound'],
        [{ text: '7', down: 2 }, 'port', { text: '22.4 %', end: true }, 'sound'],
        [null, 'starboard', { text: '34.2 %', end: true }, 'soft'],
        [{ text: 'Mean of all forty readings', across: 2 }, null, { text: '23.8 %', end: true }, ''],
      ]),
      paragraph('The plan shows what is to be renewed.'),
      picture(
        files.hullPlan,
        'Hull plan',
        14.4,
        6,
        'Plan of the hull with its frames numbered; the shaded planks are to be renewed',
      ),
      heading(2, 'Findings'),
      paragraph('Renew fifteen planks in larch, refasten the whole of the bottom, and caulk throughout.'),
      heading(1, 'Deck and wheelhouse'),
      paragraph(
        'The deck was laid in 1978 and leaks at the king plank. The wheelhouse is of softwood, painted many times.',
      ),
      picture(files.ferry, 'Ferry', 9.6, 6, 'The ferry Marigold at the east landing, with her wheelhouse amidships'),
      heading(2, 'Findings'),
      list('Numbers', [
        'Take up the deck and lay it again in larch.',
        ['Mend the wheelhouse:', list('Numbers', ['the sill under the forward windows', 'the roof edge'], true)],
        'Keep the windows as they are.',
      ]),
      heading(1, 'Engine'),
      paragraph('The engine runs. It was last opened in 1994.'),
      quotation('She starts on the second turn, every time, even in the frost.'),
      heading(1, 'Costs and order of work'),
      paragraph(
        `The figures are in the workbook ${bookmark('workbook', 'costs.xlsx')}. The order is: hull, deck, engine, paint.`,
      ),
      list('Numbers', ['Hull: May to August', 'Deck: September', 'Engine: October', 'Paint: as the weather allows']),
    ],
    trackedChanges('The surveyor did not look behind the ceiling. '),
  );

export const history = (files) =>
  textDocument('The Marigold, a short history', [
    title('The Marigold, a short history'),
    heading(1, 'Beginnings'),
    paragraph(
      `The ferry was built in 1911 at Tern Quay for the crossing to Alder Bank.${footnote('The parish paid a third of the price, which was £310.')} Before her there was a chain ferry, and before that a man with a boat.`,
    ),
    heading(1, 'In service'),
    paragraph('She carried market carts until 1938, then schoolchildren and the post.'),
    table('Service', [
      ['Years', 'Crew', 'Crossings a day'],
      ['1911–1938', '3', { text: '14', end: true }],
      ['1939–1961', '2', { text: '22', end: true }],
      ['1962–1987', '1', { text: '9', end: true }],
    ]),
    quotation('You could set your clock by her, and most of us did.'),
    heading(1, 'Laid up'),
    paragraph('The bridge opened in 1987. The Marigold lay on the mud for thirty years.'),
    picture(files.ferry, 'Ferry', 8, 5, 'The ferry Marigold at the east landing'),
    heading(1, 'The trust'),
    list('Bullets', [
      'Founded in 2019',
      'Two hundred and six members',
      ['Aims', list('Bullets', ['restore the ferry', 'run her every Sunday in summer'], true)],
    ]),
  ]);

export const application = () =>
  textDocument('Application for a heritage boat grant', [
    title('Application for a heritage boat grant'),
    heading(1, 'About the trust'),
    paragraph('The Marigold Ferry Trust looks after one wooden river ferry and the landing she sailed from.'),
    heading(1, 'Background'),
    paragraph('Say in your own words what the boat is, and why she matters.'),
    heading(1, 'Condition of the boat'),
    paragraph('Put the surveyor’s findings here.'),
    heading(1, 'Costs'),
    table('Costs', [
      ['Work', 'Cost'],
      ['', ''],
    ]),
    heading(1, 'What people say'),
    list('Bullets', ['One voice from the letters for each point']),
  ]);

export const claim = () =>
  textDocument('Claim form', [
    title('Claim for a grant payment'),
    paragraph(`Claimant: ${slot('Claimant', 'name of the trust')}`),
    paragraph(`Date: ${slot('Date', 'day, month, year')}`),
    paragraph(`Amount claimed: ${slot('Amount', 'in pounds')}`),
    paragraph(`Work done: ${slot('Work done', 'in a few words')}`),
    paragraph(`${box('Receipts enclosed')} Receipts are enclosed`),
    paragraph('Signed on behalf of the trust: ........................'),
  ]);
