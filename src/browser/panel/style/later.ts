import { type CSSResult, css } from 'lit';

/** Adds a style to an element whose part was loaded later. */
export function adoptStyle(root: ParentNode, { styleSheet }: CSSResult): void {
  if (root instanceof ShadowRoot && styleSheet) root.adoptedStyleSheets = [...root.adoptedStyleSheets, styleSheet];
}

export const menuStyle = css`
  .menu {
    position: fixed;
    margin: 0;
    inset: auto;
    min-inline-size: 14rem;
    max-block-size: calc(100vh - 1rem);
    overflow-y: auto;
    padding: 0.3rem;
    background: var(--paper);
    color: var(--ink);
    border: 1px solid var(--edge);
    border-radius: 8px;
    box-shadow: 0 6px 24px #0003;
  }
  .menu button {
    display: flex;
    justify-content: space-between;
    gap: 1.5rem;
    inline-size: 100%;
    border: 0;
    background: none;
    text-align: start;
    padding: 0.2rem 0.6rem;
    min-block-size: 1.75rem;
  }
  .menu button:is(:hover, :focus-visible):not([aria-disabled='true']) {
    background: var(--slip-chosen);
  }
  .menu button:focus-visible {
    outline-offset: -3px;
  }
  .menu p {
    margin: 0.3rem 0.6rem;
    font-size: 0.8rem;
    color: var(--faint);
  }
  .menu kbd {
    border: 0;
    color: var(--faint);
  }
`;

export const chipStyle = css`
  .chips {
    display: flex;
    flex-wrap: wrap;
    gap: 0.3rem;
    max-block-size: 3.7rem;
    overflow-y: auto;
    padding: 2px;
    margin: -2px;
    scrollbar-width: thin;
  }
  .chip {
    flex: none;
    max-inline-size: 11rem;
    min-block-size: 1.6rem;
    padding: 0 0.65rem;
    border-radius: 1rem;
    border-color: var(--line);
    font-size: 0.8rem;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .chip[aria-pressed='true'] {
    background: var(--accent);
    border-color: var(--accent);
    color: var(--on-accent);
  }
`;

export const renewStyle = css`
  .renewals {
    display: grid;
    gap: 0.6rem;
    margin: 0;
    padding: 0;
    list-style: none;
    font-size: 0.88rem;
  }
  .renewals :is(ins, del) {
    display: block;
    padding-inline: 0.4rem;
    text-decoration: none;
    overflow-wrap: anywhere;
  }
  .renewals ins {
    border-inline-start: 3px solid var(--accent);
  }
  .renewals del {
    border-inline-start: 3px solid var(--line);
    opacity: 0.8;
  }
`;
