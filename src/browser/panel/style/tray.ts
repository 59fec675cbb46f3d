import { css } from 'lit';

/** The tray and its slips: cards with one round corner. */
export const tray = css`
  .tray {
    flex: 1;
    min-block-size: 8rem;
    display: flex;
    flex-direction: column;
    position: relative;
  }
  .lip {
    display: grid;
    gap: 0.45rem;
    padding: 0.3rem 0.75rem 0.5rem;
  }
  .lip input {
    min-inline-size: 0;
    border-color: var(--line);
    border-block-end-color: var(--edge);
  }
  .slips {
    flex: 1;
    overflow-y: auto;
    padding: 0.2rem 0.75rem 0.6rem;
    overflow-anchor: none;
  }
  .slips:focus-visible {
    outline: none;
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
    grid-template-columns: auto 1fr auto;
    gap: 0.1rem 0.5rem;
    padding: 0.5rem 0.75rem 0.45rem;
    background: var(--slip);
    border: 1px solid var(--line);
    border-radius: 3px 12px 3px 3px;
    font-size: 0.88rem;
  }
  [dir='rtl'] .sheet-of-slip {
    border-radius: 12px 3px 3px 3px;
  }
  .slip[aria-selected='true'] .sheet-of-slip {
    background: var(--slip-chosen);
    border-color: var(--accent);
    box-shadow: inset 3px 0 var(--accent);
  }
  [dir='rtl'] .slip[aria-selected='true'] .sheet-of-slip {
    box-shadow: inset -3px 0 var(--accent);
  }
  .slip.active .sheet-of-slip {
    border-color: var(--edge);
  }
  .slips:focus-visible .slip.active .sheet-of-slip {
    outline: 3px solid var(--accent);
    outline-offset: -1px;
  }
  .slip.over .sheet-of-slip {
    box-shadow: inset 0 4px var(--accent);
  }
  .number {
    font-weight: 650;
    color: var(--accent);
    font-variant-numeric: tabular-nums;
  }
  .size {
    color: var(--faint);
    min-inline-size: 0;
  }
  .dots {
    inline-size: 1.75rem;
    margin: -0.3rem -0.45rem -0.3rem 0;
    text-align: center;
    font-size: 1.1rem;
    line-height: 1.75rem;
    color: var(--faint);
    border-radius: 6px;
    opacity: 0.55;
  }
  .slip:is(:hover, .active) .dots {
    opacity: 1;
  }
  .dots:hover {
    background: var(--tray);
  }
  @media (hover: none) {
    .dots {
      inline-size: 2.75rem;
      line-height: 2.5rem;
      opacity: 1;
    }
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
    max-block-size: 7em;
    margin-block: 0.15rem;
    mask-image: linear-gradient(#000 75%, transparent);
  }
  :host([dense]) .preview {
    max-block-size: 1.45em;
    mask-image: none;
  }
  :host([dense]) .sheet-of-slip {
    padding-block: 0.25rem;
  }
  :host([dense]) :is(.foot, .drawn tr:not(:first-child), .drawn li:not(:first-child)) {
    display: none;
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
    border-radius: 4px;
    padding-inline: 0.3em;
    color: var(--ink);
    font-size: 0.75rem;
  }
  .turn {
    background: var(--accent);
    color: var(--on-accent);
    border-radius: 1rem;
    font-size: 0.75rem;
    font-weight: 600;
    padding-inline: 0.55em;
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
    inset: 4rem 1.5rem auto;
    margin: 0;
    color: var(--faint);
    text-align: center;
    text-wrap: balance;
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
    border: 1px solid var(--line);
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
    color: var(--accent);
    text-decoration: underline;
  }
`;
