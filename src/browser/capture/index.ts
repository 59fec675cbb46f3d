export { type Capture, type Captured, type CaptureKey, type CaptureOptions, capture, captureKeys } from './capture.ts';
export { type Carried, carriedBy, headingAbove, originOnPage, takeCarried } from './transfer.ts';
