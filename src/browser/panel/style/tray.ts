import { css } from 'lit';

/** The tray and its slips. */
export const tray = css`
  .tray {
    flex: 1;
    min-block-size: 8rem;
    display: flex;
    flex-direction: column;
    background: var(--tray);
    box-shadow: inset 0 6px 14px #1118;
    position: relative;
  }
  .lip {
    display: flex;
    gap: 0.35rem;
    padding: 0.5rem 0.6rem 0.4rem;
  }
  .lip input {
    flex: 1;
    min-inline-size: 0;
  }
  .slips {
    flex: 1;
    overflow-y: auto;
    padding: 0.2rem 0.6rem 0.6rem;
    overflow-anchor: none;
  }
  .slips:focus-visible {
    outline-color: var(--accent);
    outline-offset: -3px;
  }
  .all {
    position: relative;
    inline-size: 100%;
  }
  .slip {
    position: absolute;
    inset: 0 0 auto 0;
    padding-block-end: 0.5rem;
    cursor: pointer;
  }
  .slip.unread .sheet-of-slip {
    min-block-size: 6.5rem;
  }
  .sheet-of-slip {
    position: relative;
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 0.05rem 0.5rem;
    margin-inline-end: 0.55rem;
    padding: 0.45rem 0.65rem 0.4rem;
    background: var(--slip);
    box-shadow: 0 1px 2px #0008;
    clip-path: polygon(0 0, calc(100% - 14px) 0, 100% 14px, 100% 100%, 0 100%);
    font-size: 0.86rem;
  }
  [dir='rtl'] .sheet-of-slip {
    clip-path: polygon(14px 0, 100% 0, 100% 100%, 0 100%, 0 14px);
  }
  .slip.even .sheet-of-slip {
    margin-inline: 0.25rem 0.3rem;
  }
  .sheet-of-slip::after {
    content: '';
    position: absolute;
    inset: 0 0 auto auto;
    border: 7px solid;
    border-color: transparent transparent var(--corner) var(--corner);
  }
  [dir='rtl'] .sheet-of-slip::after {
    inset: 0 auto auto 0;
    border-color: transparent var(--corner) var(--corner) transparent;
  }
  .slip[aria-selected='true'] .sheet-of-slip {
    background: var(--slip-chosen);
    margin-inline: 0.6rem 0;
    border-inline-start: 4px solid var(--accent);
  }
  .slips:focus-visible .slip.active .sheet-of-slip {
    outline: 3px solid var(--deep);
    outline-offset: -3px;
  }
  .slip.active .number {
    text-decoration: underline;
  }
  .slip.over .sheet-of-slip {
    box-shadow: inset 0 4px var(--deep);
  }
  .number {
    font: 600 1rem Georgia, 'Liberation Serif', serif;
    color: var(--deep);
  }
  .size {
    color: var(--faint);
    align-self: center;
    padding-inline-end: 1rem;
    min-inline-size: 0;
  }
  .label {
    grid-column: 1 / -1;
    font-weight: 600;
  }
  .preview {
    grid-column: 1 / -1;
    max-block-size: 4.4em;
    overflow: hidden;
    overflow-wrap: anywhere;
    unicode-bidi: plaintext;
    text-align: start;
  }
  .preview.drawn {
    max-block-size: 6em;
  }
  .foot {
    grid-column: 1 / -1;
    display: flex;
    flex-wrap: wrap;
    gap: 0 0.6rem;
    color: var(--faint);
    font-size: 0.8rem;
  }
  .foot .from {
    flex: 1 1 6rem;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .mark {
    border: 1px solid currentcolor;
    border-radius: 2px;
    padding-inline: 0.25rem;
    color: var(--ink);
    font-size: 0.75rem;
  }
  .turn {
    background: var(--accent);
    color: var(--on-accent);
    font-size: 0.75rem;
    font-weight: 600;
    padding-inline: 0.4rem;
  }
  .swatch {
    display: inline-block;
    inline-size: 1.1em;
    block-size: 1.1em;
    border: 1px solid var(--ink);
    vertical-align: -0.2em;
    margin-inline-end: 0.4em;
  }
  .empty {
    position: absolute;
    inset: 3.2rem 1rem auto;
    margin: 0;
    padding: 0.6rem 0.8rem;
    background: var(--slip);
    box-shadow: 0 1px 2px #0008;
  }
  .drawn {
    overflow-wrap: normal;
  }
  .drawn td,
  .drawn th {
    white-space: nowrap;
  }
  .drawn table,
  .sheet .paper table {
    border-collapse: collapse;
    font-size: 0.78em;
    margin: 0.2em 0;
  }
  .drawn :is(td, th),
  .sheet .paper :is(td, th) {
    border: 1px solid var(--corner);
    padding: 0.05em 0.4em;
    text-align: start;
    vertical-align: top;
  }
  .drawn :is(p, ul, ol, h1, h2, h3, h4, h5, h6, blockquote, pre) {
    margin: 0;
    font-size: inherit;
  }
  .drawn :is(ul, ol) {
    padding-inline-start: 1.4em;
  }
  .drawn img {
    max-block-size: 5em;
    max-inline-size: 100%;
    inline-size: auto !important;
    block-size: auto !important;
  }
  .link {
    color: var(--deep);
    text-decoration: underline;
  }
`;
