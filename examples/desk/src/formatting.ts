import type { Editor } from '@tiptap/core';
import { Bold, createElement, type IconNode, Italic, List, ListOrdered, Redo2, Table, Undo2 } from 'lucide';
import type { DocumentDraft } from './draft-document.ts';
import { element, make, rowStep } from './element.ts';
import type { DeskPhrase, Say } from './words/index.ts';

/** One thing that a writer does to what is selected. */
interface Tool {
  readonly phrase: DeskPhrase;
  readonly icon: IconNode;
  run(editor: Editor): void;
  /** Whether it holds for what is selected; absent for what is done once. */
  isOn?(editor: Editor): boolean;
}

/** What is on or off for what is selected; `name` is the editor's own for it. */
const toggle = (phrase: DeskPhrase, icon: IconNode, name: string, run: Tool['run']): Tool => ({
  phrase,
  icon,
  run,
  isOn: (editor) => editor.isActive(name),
});

const tools: readonly Tool[] = [
  toggle('bold', Bold, 'bold', (editor) => editor.commands.toggleBold()),
  toggle('italic', Italic, 'italic', (editor) => editor.commands.toggleItalic()),
  toggle('bullets', List, 'bulletList', (editor) => editor.commands.toggleBulletList()),
  toggle('numbers', ListOrdered, 'orderedList', (editor) => editor.commands.toggleOrderedList()),
  {
    phrase: 'insertTable',
    icon: Table,
    run: (editor) => editor.commands.insertTable({ rows: 3, cols: 3, withHeaderRow: true }),
  },
  { phrase: 'undo', icon: Undo2, run: (editor) => editor.commands.undo() },
  { phrase: 'redo', icon: Redo2, run: (editor) => editor.commands.redo() },
];

const levels = [1, 2, 3] as const;

/** The toolbar of a document (WAI-ARIA 1.2, toolbar): one stop of the Tab key, arrows go through it. */
export class FormattingBar {
  readonly #bar = element('formatting', HTMLElement);
  readonly #style: HTMLSelectElement;
  readonly #buttons: readonly HTMLButtonElement[];
  #editor: Editor | undefined;

  constructor(say: Say) {
    this.#style = make(
      'select',
      { 'aria-label': say('style'), tabindex: '0' },
      make('option', { value: 'paragraph' }, say('style.paragraph')),
      ...levels.map((level) => make('option', { value: `heading${level}` }, say('style.heading', { level }))),
      make('option', { value: 'blockquote' }, say('style.quote')),
      make('option', { value: 'codeBlock' }, say('style.code')),
    );
    this.#style.addEventListener('change', () => this.#setStyle(this.#style.value));
    this.#buttons = tools.map(({ phrase, icon, run }) => {
      const button = make('button', {
        type: 'button',
        class: 'quiet',
        tabindex: '-1',
        'aria-label': say(phrase),
        title: say(phrase),
      });
      const picture = createElement(icon);
      picture.setAttribute('aria-hidden', 'true');
      button.append(picture);
      button.addEventListener('click', () => {
        if (!this.#editor) return;
        run(this.#editor);
        this.#editor.commands.focus();
      });
      return button;
    });
    this.#bar.append(this.#style, ...this.#buttons);
    this.#bar.addEventListener('keydown', (event) => this.#onKey(event));
  }

  /** Serves a document from now on, or nothing. */
  show(draft: DocumentDraft | undefined): void {
    this.#editor = draft?.editor;
    this.#bar.hidden = draft === undefined;
    this.#editor?.on('transaction', () => this.#renew());
    this.#renew();
  }

  #renew(): void {
    const editor = this.#editor;
    if (!editor) return;
    for (const [index, { isOn }] of tools.entries())
      if (isOn) this.#buttons[index]?.setAttribute('aria-pressed', String(isOn(editor)));
    const level = levels.find((each) => editor.isActive('heading', { level: each }));
    const block = ['blockquote', 'codeBlock'].find((name) => editor.isActive(name));
    this.#style.value = level ? `heading${level}` : (block ?? 'paragraph');
  }

  #setStyle(style: string): void {
    const chain = this.#editor?.chain().focus();
    const level = levels.find((each) => style === `heading${each}`);
    if (level) chain?.setHeading({ level }).run();
    else if (style === 'blockquote') chain?.setBlockquote().run();
    else if (style === 'codeBlock') chain?.setCodeBlock().run();
    else chain?.clearNodes().run();
  }

  #onKey(event: KeyboardEvent): void {
    const items = [this.#style, ...this.#buttons];
    const at = items.indexOf(event.target as HTMLSelectElement);
    const step = rowStep(event);
    if (step === 0) return;
    event.preventDefault();
    const next = items[(at + step + items.length) % items.length];
    for (const item of items) item.tabIndex = item === next ? 0 : -1;
    next?.focus();
  }
}
