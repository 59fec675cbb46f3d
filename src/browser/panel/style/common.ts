import { css } from 'lit';

/** By day, and on paper at any time. */
export const light = css`
  --ink: var(--drawer-ink, #1c2930);
  --faint: var(--drawer-faint, #55636b);
  --paper: var(--drawer-paper, #ffffff);
  --slip: var(--drawer-slip, #ffffff);
  --slip-chosen: var(--drawer-slip-chosen, #e2f0ec);
  --tray: var(--drawer-tray, #eceeea);
  --line: var(--drawer-line, #cfd5d0);
  --edge: var(--drawer-edge, #7d8a87);
  --accent: var(--drawer-accent, #17695b);
  --on-accent: var(--drawer-on-accent, #ffffff);
  color-scheme: light;
`;

const dark = css`
  --ink: var(--drawer-ink, #e8ebe8);
  --faint: var(--drawer-faint, #aab4b3);
  --paper: var(--drawer-paper, #20272a);
  --slip: var(--drawer-slip, #2a3235);
  --slip-chosen: var(--drawer-slip-chosen, #1f4640);
  --tray: var(--drawer-tray, #171c1e);
  --line: var(--drawer-line, #3d474a);
  --edge: var(--drawer-edge, #87938f);
  --accent: var(--drawer-accent, #7fd0bd);
  --on-accent: var(--drawer-on-accent, #08251f);
  color-scheme: dark;
`;

/** Everything that a page may want otherwise, as custom properties, and what all parts have in common. */
export const common = css`
  :host {
    ${light}
    display: block;
    min-inline-size: 17.5rem;
    block-size: 100%;
    min-block-size: 20rem;
    color: var(--ink);
    font: var(--drawer-font, 0.9375rem / 1.45 system-ui, 'Noto Sans', 'DejaVu Sans', sans-serif);
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
    border-radius: 10px;
    background: var(--tray);
  }
  button,
  input,
  select,
  textarea {
    font: inherit;
    font-size: 0.88rem;
    color: var(--ink);
    background: var(--paper);
    border: 1px solid var(--edge);
    border-radius: 6px;
    padding: 0.25rem 0.6rem;
    min-block-size: 2rem;
    max-inline-size: 100%;
  }
  button {
    cursor: pointer;
  }
  button:hover {
    border-color: var(--accent);
  }
  button.quiet {
    background: none;
    border-color: transparent;
    padding-inline: 0.45rem;
    color: var(--accent);
    font-weight: 600;
    line-height: 1;
  }
  svg {
    vertical-align: middle;
  }
  button.quiet:hover {
    border-color: var(--edge);
  }
  button[aria-disabled='true'] {
    color: var(--faint);
    background: none;
    border: 1px dashed var(--line);
    cursor: default;
  }
  button.main {
    background: var(--accent);
    border-color: var(--accent);
    color: var(--on-accent);
    font-weight: 600;
  }
  button.main[aria-disabled='true'] {
    background: var(--line);
    border: 0;
    color: var(--ink);
  }
  :focus-visible {
    outline: 3px solid var(--accent);
    outline-offset: 2px;
  }
`;

/** What people ask of every page: less motion, colours of their own. */
export const wishes = css`
  @media (prefers-reduced-motion: no-preference) {
    .sheet-of-slip {
      transition: background 0.15s;
    }
  }
  @media (forced-colors: active) {
    .drawer,
    .sheet-of-slip,
    .sheet,
    .menu,
    .toolbar {
      border: 1px solid;
    }
    .slip[aria-selected='true'] .sheet-of-slip {
      border-inline-start: 6px solid Highlight;
    }
    .chip[aria-pressed='true'] {
      border: 3px solid Highlight;
    }
    .swatch {
      forced-color-adjust: none;
    }
  }
`;
