import { css } from 'lit';

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
