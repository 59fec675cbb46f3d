export { type Capture, type Captured, type CaptureKey, type CaptureOptions, capture, captureKeys } from './capture.ts';
export { type Carried, carriedBy, headingAbove, originOnPage, readCarried } from './transfer.ts';
