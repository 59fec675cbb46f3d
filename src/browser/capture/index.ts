export { type Capture, type Captured, type CaptureKey, type CaptureOptions, capture, captureKeys } from './capture.ts';
export { headingAbove, originOnPage } from './origin.ts';
export { type Carried, carriedBy, takeCarried } from './transfer.ts';
