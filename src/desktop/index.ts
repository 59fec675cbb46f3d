/**
 * The clipboard of the desktop that a program runs in: what was copied in any program, and what is offered to any.
 * @packageDocumentation
 */

export type { Copied, DesktopClipboard, Forms, Offer, Offering, Program } from './clipboard.ts';
export { secretStays } from './clipboard.ts';
export { type CopyListener, type FollowedCopies, followCopies } from './follow-copies.ts';
export { type OfferingOptions, offeringOf } from './offering.ts';
export { type CopiedExcerpt, checkCopied, readCopied, sourceOfCopy } from './read-copied.ts';
export { openClipboard } from './session.ts';
export { SimulatedDesktop } from './simulated-desktop.ts';
