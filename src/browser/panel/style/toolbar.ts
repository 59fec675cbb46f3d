import { css } from 'lit';

/** The head with the name and the menu, and the line of primary actions below the slips. */
export const toolbar = css`
  .head {
    display: flex;
    align-items: center;
    gap: 0.2rem;
    padding: 0.55rem 0.55rem 0.1rem 0.9rem;
  }
  [dir='rtl'] .head {
    padding-inline: 0.9rem 0.55rem;
  }
  .head h2 {
    margin: 0;
    font-size: 1.05rem;
    font-weight: 650;
  }
  .count {
    flex: 1;
    padding-inline-start: 0.5rem;
    font-size: 0.85rem;
    color: var(--faint);
    white-space: nowrap;
  }
  .toolbar {
    padding: 0.6rem 0.75rem 0.5rem;
    border-block-start: 1px solid var(--line);
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem;
    align-items: center;
  }
  .row > button {
    flex: 1 1 auto;
    padding-inline: 0.4rem;
  }
  .next,
  .status {
    margin: 0.3rem 0 0;
    font-size: 0.83rem;
    color: var(--faint);
  }
  .next {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .status {
    min-block-size: 1.5em;
    color: var(--ink);
  }
`;
