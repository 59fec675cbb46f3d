import { css } from 'lit';

const dark = css`
  --ink: var(--drawer-ink, #ece7da);
  --faint: var(--drawer-faint, #b9b2a2);
  --paper: var(--drawer-paper, #2c2f31);
  --slip: var(--drawer-slip, #34373a);
  --slip-chosen: var(--drawer-slip-chosen, #4d4226);
  --corner: var(--drawer-corner, #55585a);
  --tray: var(--drawer-tray, #191a1a);
  --wood: var(--drawer-wood, #5d4c35);
  --wood-deep: var(--drawer-wood-deep, #4a3b28);
  --wood-edge: var(--drawer-wood-edge, #a58a5f);
  --on-wood: var(--drawer-on-wood, #f6efdf);
  --accent: var(--drawer-accent, #e6b23c);
  --on-accent: var(--drawer-on-accent, #241a00);
  --deep: var(--drawer-deep, #8cc7e4);
  color-scheme: dark;
`;

/** The drawer of paper slips: a tray in a wooden front. Everything that a page may want otherwise is a custom property. */
export const style = css`
  :host {
    --ink: var(--drawer-ink, #1f2d38);
    --faint: var(--drawer-faint, #55626b);
    --paper: var(--drawer-paper, #fdfcf7);
    --slip: var(--drawer-slip, #fffdf3);
    --slip-chosen: var(--drawer-slip-chosen, #fdf0cb);
    --corner: var(--drawer-corner, #d9cfa9);
    --tray: var(--drawer-tray, #8f8a7d);
    --wood: var(--drawer-wood, #cbb38d);
    --wood-deep: var(--drawer-wood-deep, #b79d75);
    --wood-edge: var(--drawer-wood-edge, #8a6d48);
    --on-wood: var(--drawer-on-wood, #2b1f0e);
    --accent: var(--drawer-accent, #e6b23c);
    --on-accent: var(--drawer-on-accent, #2b1d00);
    --deep: var(--drawer-deep, #1c5168);
    color-scheme: light;
    display: block;
    min-inline-size: 17.5rem;
    block-size: 100%;
    min-block-size: 20rem;
    color: var(--ink);
    font: var(--drawer-font, 0.9375rem / 1.45 'Source Sans 3', 'DejaVu Sans', system-ui, sans-serif);
  }
  @media (prefers-color-scheme: dark) {
    :host(:not([theme='light'])) {
      ${dark}
    }
  }
  :host([theme='dark']) {
    ${dark}
  }
  :host([hidden]) {
    display: none;
  }
  * {
    box-sizing: border-box;
  }
  [hidden] {
    display: none !important;
  }
  .drawer {
    block-size: 100%;
    display: flex;
    flex-direction: column;
    border: 0.5rem solid var(--wood);
    border-block-end: 0;
    border-radius: 5px;
    background: var(--wood);
    outline: 1px solid var(--wood-edge);
    outline-offset: -1px;
  }
  button,
  input,
  select,
  textarea {
    font: inherit;
    font-size: 0.88rem;
    color: var(--ink);
    background: var(--paper);
    border: 1px solid var(--wood-edge);
    border-radius: 3px;
    padding: 0.25rem 0.55rem;
    min-block-size: 1.9rem;
    max-inline-size: 100%;
  }
  button {
    cursor: pointer;
  }
  button:hover {
    border-color: var(--deep);
    text-decoration: underline;
  }
  button[aria-disabled='true'] {
    opacity: 0.75;
    border-style: dashed;
    cursor: default;
    text-decoration: none;
  }
  button.main {
    background: var(--accent);
    color: var(--on-accent);
    font-weight: 600;
  }
  :focus-visible {
    outline: 3px solid var(--deep);
    outline-offset: 1px;
  }

  /* The tray and its slips */
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

  /* The front, with its name plate and handle */
  .front {
    background: linear-gradient(var(--wood), var(--wood-deep));
    color: var(--on-wood);
    border-block-start: 2px solid var(--wood-edge);
    padding: 0.5rem 0.35rem 0.6rem;
    display: grid;
    grid-template-columns: minmax(0, 1fr);
    gap: 0.4rem;
    max-block-size: 60%;
    overflow-y: auto;
  }
  .plate {
    display: flex;
    justify-content: space-between;
    gap: 0.6rem;
    margin: 0;
    padding: 0.1rem 0.6rem;
    background: var(--slip);
    color: var(--ink);
    border: 1px solid var(--wood-edge);
    border-radius: 3px;
    font-size: 0.95rem;
    font-weight: 600;
  }
  .plate span + span {
    font-weight: 400;
    color: var(--faint);
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 0.3rem;
    align-items: center;
  }
  .row > button {
    flex: 1 1 auto;
  }
  .row .said {
    flex: 1 1 9rem;
    font-size: 0.85rem;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .handle {
    border-radius: 1rem;
    background: linear-gradient(#e9e2cf, #b9a987);
    color: #2b1f0e;
    font-weight: 600;
  }
  fieldset {
    border: 1px solid var(--wood-edge);
    border-radius: 3px;
    margin: 0;
    padding: 0.2rem 0.5rem 0.5rem;
    min-inline-size: 0;
  }
  legend {
    font-size: 0.8rem;
    padding-inline: 0.3rem;
  }
  .status {
    min-block-size: 1.5em;
    margin: 0;
    font-size: 0.86rem;
  }

  /* A sheet pulled over the tray: merging, rules and the like */
  .sheet {
    flex: 1;
    min-block-size: 0;
    overflow-y: auto;
    margin: 0.5rem 0.6rem;
    padding: 0.6rem 0.8rem;
    background: var(--paper);
    color: var(--ink);
    box-shadow: 0 1px 3px #0009;
    display: flex;
    flex-direction: column;
    gap: 0.5rem;
  }
  .sheet h3 {
    margin: 0;
    font-size: 1rem;
  }
  .sheet p {
    margin: 0;
  }
  .sheet label,
  .sheet .field {
    display: grid;
    grid-template-columns: minmax(5.5rem, 2fr) minmax(0, 3fr);
    gap: 0.2rem 0.5rem;
    align-items: center;
    font-size: 0.88rem;
  }
  .sheet form {
    display: grid;
    gap: 0.5rem;
  }
  .sheet :is(select, input:not([type='checkbox'])) {
    inline-size: 100%;
    min-inline-size: 0;
  }
  .sheet label.tick {
    display: flex;
    gap: 0.35rem;
  }
  .sheet .ticks {
    display: flex;
    flex-wrap: wrap;
    gap: 0.2rem 0.8rem;
  }
  .sheet input[type='checkbox'] {
    min-block-size: 0;
    inline-size: 1rem;
    block-size: 1rem;
    margin: 0;
  }
  .sheet textarea {
    inline-size: 100%;
    min-block-size: 12rem;
    font-family: 'DejaVu Sans Mono', monospace;
    font-size: 0.82rem;
  }
  .sheet .paper {
    border: 1px solid var(--corner);
    background: var(--slip);
    padding: 0.6rem 0.8rem;
    max-block-size: 22rem;
    min-block-size: 3rem;
    overflow: auto;
    flex: 1 0 auto;
    font-family: Georgia, 'Liberation Serif', serif;
  }
  .sheet .paper img {
    max-inline-size: 100%;
    block-size: auto;
  }
  .sheet dl {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 0.2rem 0.8rem;
    margin: 0;
  }
  .sheet dd {
    margin: 0;
  }
  kbd {
    font-size: 0.85em;
    border: 1px solid var(--faint);
    border-radius: 3px;
    padding-inline: 0.3em;
    white-space: nowrap;
  }
  .problem {
    font-weight: 600;
  }
  @media (prefers-reduced-motion: no-preference) {
    .sheet-of-slip {
      transition: margin 0.15s;
    }
  }
  @media (forced-colors: active) {
    .sheet-of-slip,
    .sheet,
    .tray,
    .front {
      border: 1px solid;
    }
    .slip[aria-selected='true'] .sheet-of-slip {
      border-inline-start: 6px solid Highlight;
    }
    .swatch {
      forced-color-adjust: none;
    }
  }
`;
