import { html, nothing, type TemplateResult } from 'lit';
import type { DrawerPanel } from './panel.ts';
import { adoptStyle, chipStyle } from './style/later.ts';

/** Has a panel draw chips that narrow its slips down, where there is more than one kind or source. */
export function chipsOf(panel: DrawerPanel): () => TemplateResult | typeof nothing {
  adoptStyle(panel.renderRoot, chipStyle);
  return () => renderChips(panel);
}

function renderChips(panel: DrawerPanel): TemplateResult | typeof nothing {
  const { words, model } = panel;
  const chip = (term: string, phrase: string): TemplateResult =>
    html`<button
      type="button"
      class="chip"
      dir="auto"
      aria-pressed=${model.filters.includes(term)}
      @click=${() => void panel.attempt(() => panel.filter(term))}
    >
      ${phrase}
    </button>`;
  const ofKinds = [...model.kinds].map((kind) => chip(`is:${kind}`, words.say(`only.${kind}`)));
  const ofSources = [...model.sources].map((source) => chip(`from:${source}`, source));
  const chips = [...(ofKinds.length > 1 ? ofKinds : []), ...(ofSources.length > 1 ? ofSources : [])];
  if (chips.length === 0 && model.filters.length === 0) return nothing;
  return html`<div class="chips" role="group" aria-label=${words.say('only')}>${chips}</div>`;
}
