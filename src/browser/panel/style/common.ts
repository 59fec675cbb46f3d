import { css } from 'lit';

/** By day, and on paper at any time. */
export const light = css`
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
`;

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

/** Everything that a page may want otherwise, as custom properties, and what all parts have in common. */
export const common = css`
  :host {
    ${light}
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
`;

/** What people ask of every page: less motion, colours of their own. */
export const wishes = css`
  @media (prefers-reduced-motion: no-preference) {
    .sheet-of-slip {
      transition: margin 0.15s;
    }
  }
  @media (forced-colors: active) {
    .sheet-of-slip,
    .sheet,
    .tray,
    .toolbar {
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
