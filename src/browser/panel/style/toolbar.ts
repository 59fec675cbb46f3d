import { css } from 'lit';

/** The front, with its name plate and handle. */
export const toolbar = css`
  .toolbar {
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
`;
