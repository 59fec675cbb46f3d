import { Extension } from '@tiptap/core';
import { Plugin, PluginKey } from '@tiptap/pm/state';
import { Decoration, DecorationSet } from '@tiptap/pm/view';
import type { Content, Media } from 'drawer';
import { showContent } from 'drawer/browser';
import { make } from './element.ts';

/** What is shown at the caret before it lands there. */
interface Landed {
  readonly content: Content;
  readonly media: Media;
}

/** By its key a transaction says what is to be shown; `null` for nothing. */
export const landing = new PluginKey<Landed | null>('landing');

/** Shows at the caret how something will look there, which is no part of the document. */
export const Landing = Extension.create({
  name: 'landing',
  addProseMirrorPlugins: () => [
    new Plugin<Landed | null>({
      key: landing,
      state: {
        init: () => null,
        apply: (transaction, shown) => {
          const told: Landed | null | undefined = transaction.getMeta(landing);
          return told === undefined ? shown : told;
        },
      },
      props: {
        decorations(state) {
          const shown = landing.getState(state);
          if (!shown) return DecorationSet.empty;
          const draw = (): HTMLElement =>
            make('div', { class: 'landing', 'aria-hidden': 'true' }, showContent(shown.content, shown.media));
          return DecorationSet.create(state.doc, [Decoration.widget(state.selection.to, draw, { side: 1 })]);
        },
      },
    }),
  ],
});
