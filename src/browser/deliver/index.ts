export { type CaretPlace, followCaret, lastPlace, setPlace } from './caret.ts';
export { type Delivered, type DeliverOptions, deliver, toClipboard, transferOf } from './deliver.ts';
export { nameOf } from './field.ts';
export { type FormReport, type FormSlot, fillPageForm, slotsOf } from './form.ts';
