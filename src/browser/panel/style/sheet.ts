import { css } from 'lit';
import { light } from './common.ts';

/** A sheet pulled over the tray: merging, rules and the like. */
export const sheet = css`
  .sheet {
    flex: 1;
    min-block-size: 0;
    overflow-y: auto;
    margin: 0.3rem 0.75rem 0.6rem;
    border: 1px solid var(--line);
    border-radius: 3px 12px 3px 3px;
    padding: 0.6rem 0.8rem;
    background: var(--paper);
    color: var(--ink);
    display: flex;
    flex-direction: column;
    gap: 0.5rem;
  }
  .sheet h3 {
    margin: 0;
    font-size: 1rem;
  }
  .sheet > .row:first-child > button {
    flex: none;
    margin-inline-start: auto;
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
  .sheet :is(select, input:not(.tick input)) {
    inline-size: 100%;
    min-inline-size: 0;
  }
  .sheet progress {
    inline-size: 100%;
  }
  .sheet :is(progress, .tick input) {
    accent-color: var(--accent);
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
  .sheet .tick input {
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
    ${light}
    border: 1px solid var(--line);
    background: var(--slip);
    color: var(--ink);
    padding: 0.6rem 0.8rem;
    max-block-size: 22rem;
    min-block-size: 3rem;
    overflow: auto;
    flex: 1 0 auto;
    font-family: Georgia, 'Liberation Serif', serif;
  }
  .sheet .paper img {
    max-inline-size: 100%;
    block-size: auto !important;
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
`;
