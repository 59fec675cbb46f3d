// The trust's workbooks. Figures are invented.
import {
  clock,
  day,
  euros,
  head,
  namedRange,
  number,
  pounds,
  row,
  share,
  sheet,
  spreadsheet,
  total,
  yes,
} from './odf.mjs';

export const costs = () =>
  spreadsheet(
    [
      sheet('Timber', [
        row([head('Item'), head('Length, m'), head('Price'), head('Ordered')]),
        row(['Larch planks, 35 mm', number(96.5, 'cPlain'), pounds(1250), day('2026-05-03')]),
        row(['Oak for frames', number(12, 'cPlain'), pounds(864.4), day('2026-05-03')]),
        row(['Elm for the rubbing strake', number(21, 'cPlain'), pounds(433.65), '']),
        row(['Offcuts sold', '', pounds(-120), day('2026-06-18')]),
        row([{ xml: head('Timber, all').xml }, '', total(2428.05, 'SUM([.C2:.C5])'), '']),
        row(['Quoted and not taken', number(40, 'cPlain'), pounds(990), ''], { hidden: true }),
        row(['Carriage', '', pounds(75), day('2026-05-05')]),
      ]),
      sheet('Fittings', [
        row([head('Fittings and fastenings', 4), null, null, null]),
        row([head('Item'), head('Pieces'), head('Each'), head('Cost')]),
        row(['Copper nails, 100 mm', number(2400), euros(0.42), euros(1008)]),
        row(['Bronze bolts', number(64), euros(7.9), euros(505.6)]),
        row(['Returned: wrong thread', number(-8), euros(7.9), euros(-63.2)]),
      ]),
      sheet('Sources of money', [
        row([head('Source'), head('Amount'), head('Share'), head('Promised')]),
        row(['Members', pounds(6200), share(0.31), yes(true)]),
        row(['Sunday collections', pounds(1800), share(0.09), yes(true)]),
        row(['Grant applied for', pounds(12000), share(0.6), yes(false)]),
      ]),
    ],
    `<table:named-expressions>${namedRange('TimberPrices', '$Timber.$C$2:.$C$5')}</table:named-expressions>`,
  );

export const crew = () =>
  spreadsheet([
    sheet('Summer rota', [
      row([head('Sunday'), head('Helm'), head('Deck'), head('Start')]),
      row([day('2026-07-05'), 'first watch', 'third watch', clock('09', '30')]),
      row([day('2026-07-12'), 'second watch', 'first watch', clock('09', '30')]),
      row([day('2026-07-19'), 'third watch', 'second watch', clock('10', '15')]),
    ]),
    sheet('Hours', [
      row([head('Watch'), head('Hours')]),
      row(['first', number(41.5, 'cPlain')]),
      row(['second', number(38, 'cPlain')]),
      row(['third', number(44.25, 'cPlain')]),
    ]),
  ]);

export const budget = () =>
  spreadsheet([
    sheet('Lines', [
      row([head('Budget of the restoration', 3), null, null]),
      row([head('Line'), head('Planned'), head('Spent')]),
      row(['Hull', pounds(9400), pounds(0)]),
      row(['', '', '']),
      row(['', '', '']),
      row(['All', total(9400, 'SUM([.B3:.B5])'), total(0, 'SUM([.C3:.C5])')]),
    ]),
    sheet('Notes', [row(['Figures without value added tax'])]),
  ]);
