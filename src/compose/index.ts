export { type Amount, amountText, findAmount, parseAmount } from './amounts.ts';
export * from './compose.ts';
export { type NeighbourRule, neighbourRules } from './neighbours.ts';
export {
  type Attribution,
  attributions,
  type Composable,
  type Composed,
  type ComposeJoin,
  type ComposeOptions,
  type ComposeOrder,
  type ComposeWords,
  composeJoins,
  composeOrders,
  plainTidyings,
  type Tidying,
  type TotalKind,
  tidyings,
  totalKinds,
} from './options.ts';
export { ordered } from './order.ts';
export {
  type Match,
  type MatchableSlot,
  type MatchableSnippet,
  type Matching,
  type MatchOptions,
  matchSlots,
  slotValue,
} from './slots.ts';
export { type Total, totalsOf } from './totals.ts';
