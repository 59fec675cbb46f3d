import { Command } from 'commander';
import type { AppendOptions } from './commands/append.ts';
import type { DeleteOptions } from './commands/delete.ts';
import type { FillOptions } from './commands/fill.ts';
import type { ListOptions } from './commands/list.ts';
import type { MarkOptions } from './commands/mark.ts';
import type { MergeOptions } from './commands/merge.ts';
import type { MoveOptions } from './commands/move.ts';
import type { NextOptions } from './commands/next.ts';
import type { OutlineOptions } from './commands/outline.ts';
import type { PasteOptions } from './commands/paste.ts';
import type { RulesOptions } from './commands/rules.ts';
import type { SplitOptions } from './commands/split.ts';
import type { UndoOptions } from './commands/undo.ts';
import { type Context, createContext, visible } from './context.ts';
import type { GatherOptions } from './gather.ts';
import { example, formatHelp, landingHelp, placesHelp, referencesHelp } from './help.ts';

/** What a command is declared with. */
interface Tools {
  readonly program: Command;
  readonly context: () => Context;
  /** Snippets that somebody picks at the terminal. */
  readonly picked: (several: boolean) => Promise<readonly string[]>;
  /** What is named, or else picked. */
  readonly named: (words: readonly string[], options: PickOptions, several: boolean) => Promise<readonly string[]>;
}

/** What each command is called and takes; its code is loaded only when it runs. */
const commands: { readonly [name: string]: (tools: Tools) => Command } = {
  outline: ({ program, context }) =>
    program
      .command('outline <file>')
      .description('every place in a file that can be taken')
      .option('--as <format>', 'read the file as this format')
      .option('--paragraphs', 'every paragraph too')
      .option('--columns', 'the columns of each table too')
      .option('--fields', 'the fields of a form too')
      .option('--json', 'as JSON, for programs')
      .addHelpText('after', `\n${example('drawer outline survey.docx', 'drawer outline claim.docx --fields')}`)
      .action(async (file: string, options: OutlineOptions) =>
        (await import('./commands/outline.ts')).outline(file, options, context()),
      ),
  copy: ({ program, context }) =>
    gathering(program.command('copy [place...]'))
      .description('gather places; the files stay as they are')
      .option('-t, --text <words>', 'these words; may be said several times', collect)
      .option('--pick', 'choose in the outline of a file: type to narrow, arrows, Tab for several')
      .addHelpText(
        'after',
        `\n${placesHelp}\n\n${example("drawer copy 'survey.docx#section=Hull condition' 'costs.xlsx#Timber!A1:D6'")}`,
      )
      .action(async (places: string[], options: GatherOptions & PickOptions) =>
        (await import('./commands/copy.ts')).copy(
          options.pick ? await (await import('./pick-place.ts')).pickPlaces(places, options, context()) : places,
          options,
          context(),
        ),
      ),
  cut: ({ program, context }) =>
    gathering(program.command('cut <place...>'))
      .description('gather places and take them out of their files')
      .addHelpText('after', `\n${example("drawer cut 'log.md#section=To do'", 'drawer undo')}`)
      .action(async (places: string[], options: GatherOptions) =>
        (await import('./commands/cut.ts')).cut(places, options, context()),
      ),
  append: ({ program, context, picked }) =>
    picking(gathering(program.command('append [place...]')))
      .description('add to the newest snippet instead of starting another')
      .option('-t, --text <words>', 'these words; may be said several times', collect)
      .option('--onto <ref>', 'add to this snippet')
      .option('-j, --join <how>', 'nothing, space, line, paragraph or any text; remembered')
      .addHelpText('after', `\n${example("drawer append 'survey.docx#paragraph=4' --join space")}`)
      .action(async (places: string[], options: AppendOptions & PickOptions) => {
        const [onto = options.onto] = options.pick ? await picked(false) : [];
        return (await import('./commands/append.ts')).append(places, { ...options, ...(onto && { onto }) }, context());
      }),
  list: ({ program, context, picked }) =>
    picking(program.command('list [ref...]'))
      .description('what the drawer holds: how much, from where, when')
      .option('--newest', 'newest first')
      .option('--long', 'everything that is known of each')
      .option('--follow', 'go on telling what comes, changes and goes')
      .option('--drawers', 'the names of your drawers')
      .option('--json', 'as JSON, for programs')
      .addHelpText(
        'after',
        `\n${referencesHelp}\n\n${example('drawer list', 'drawer list 51-100', 'drawer list held')}`,
      )
      .action(async (references: string[], options: ListOptions & PickOptions) =>
        (await import('./commands/list.ts')).list(options.pick ? await picked(true) : references, options, context()),
      ),
  show: ({ program, context, named }) =>
    picking(program.command('show [ref...]'))
      .description('the whole of a snippet, its counts and origin')
      .option('--json', 'as JSON, for programs')
      .addHelpText('after', `\n${referencesHelp}\n\n${example('drawer show 2', 'drawer show last')}`)
      .action(async (words: string[], options: { json?: boolean } & PickOptions) =>
        (await import('./commands/show.ts')).show(await named(words, options, true), options, context()),
      ),
  find: ({ program, context }) =>
    program
      .command('find <word...>')
      .description('look for words, beginnings and parts of them')
      .option('--json', 'as JSON, for programs')
      .addHelpText(
        'after',
        `\nfrom:FILE, label:WORD and is:KIND narrow it down; a KIND is table, list, picture, section,\nwords, link, money, date, number, held, secret, built-up …\n\n${example('drawer find oak', 'drawer find from:costs is:table larch')}`,
      )
      .action(async (words: string[], options: { json?: boolean }) =>
        (await import('./commands/find.ts')).find(words, options, context()),
      ),
  paste: ({ program, context, named }) =>
    composing(landing(picking(program.command('paste [ref...]'))))
      .description('paste snippets, printed or into files')
      .option('--as <format>', 'what to print: text, markdown, html or json', 'text')
      .option('--take-out', 'what was pasted leaves the drawer')
      .option('--preview', 'say what would land where, and write nothing')
      .addHelpText(
        'after',
        `\n${referencesHelp}\n\n${landingHelp}\n\n${example(
          'drawer paste all --into draft.docx',
          "drawer paste 2 4 --into 'application.docx#section=Background' --side end",
          'drawer paste 4 2 3 --join sentence',
        )}`,
      )
      .action(async (words: string[], options: Omit<PasteOptions, 'saysFormat'> & PickOptions, command: Command) =>
        (await import('./commands/paste.ts')).paste(
          await named(words, options, true),
          { ...options, saysFormat: command.getOptionValueSource('as') === 'cli' },
          context(),
        ),
      ),
  next: ({ program, context }) =>
    landing(program.command('next'))
      .description('paste one after another: the next one')
      .option('--as <format>', 'what to print: text, markdown, html or json', 'text')
      .option('--across', 'in a sheet beside the last, instead of under it')
      .option('--skip', 'pass the next one over')
      .option('--back', 'the one before comes again')
      .option('--restart', 'begin again with the first')
      .option('--peek', 'only say what comes next')
      .option('--take-out', 'what was pasted leaves the drawer')
      .option(
        '--language <tag>',
        'how numbers and dates are read, and of new files (else as each source says, or en-GB)',
      )
      .addHelpText(
        'after',
        `\n--into is remembered; --into - prints again.\n\n${example("drawer next --into 'budget.xlsx#Lines!B4'", 'drawer next')}`,
      )
      .action(async (options: NextOptions) => (await import('./commands/next.ts')).next(options, context())),
  merge: ({ program, context, named }) =>
    composing(picking(program.command('merge [ref...]')))
      .description('one new snippet of several')
      .option('--label <words>', 'what to call it')
      .option('--take-out', 'what it is made of leaves the drawer')
      .option('-q, --quiet', 'say nothing when all is well')
      .option('--json', 'as JSON, for programs')
      .addHelpText(
        'after',
        `\n${referencesHelp}\n\n${example('drawer merge 2-4 --join bullets --label "Timber quotes"')}`,
      )
      .action(async (words: string[], options: MergeOptions & PickOptions) =>
        (await import('./commands/merge.ts')).merge(await named(words, options, true), options, context()),
      ),
  fill: ({ program, context, picked }) =>
    picking(program.command('fill <form>'))
      .description('fill a form, by name, label or what it asks for')
      .option('-i, --into <file>', 'a new file; without it the form itself is filled')
      .option('--slot <name=ref>', 'this snippet in this place; may be said several times', collect)
      .option('--by <way>', 'match only by label or by trait (a date, an amount …)')
      .option('--from <ref>', 'only these snippets; may be said several times', collect)
      .option('--preview', 'say what would go where, and write nothing')
      .option('--language <tag>', 'how numbers and dates are written (else en-GB)')
      .option('-q, --quiet', 'say nothing when all is well')
      .option('--json', 'as JSON, for programs')
      .addHelpText('after', `\n${example('drawer fill claim.docx --into claim-filled.docx --slot Claimant=2')}`)
      .action(async (form: string, options: FillOptions & PickOptions) => {
        const from = options.pick ? { from: await picked(true) } : {};
        return (await import('./commands/fill.ts')).fill(form, { ...options, ...from }, context());
      }),
  move: ({ program, context, named }) =>
    picking(program.command('move [ref...]'))
      .description('to another place, or sorted by what they hold')
      .option('--before <ref>', 'in front of this one')
      .option('--after <ref>', 'behind this one')
      .option('--top', 'in front of all')
      .option('--end', 'behind all')
      .option('--by <what>', 'sort them among themselves: origin, label, date or amount')
      .option('-q, --quiet', 'say nothing when all is well')
      .addHelpText('after', `\n${referencesHelp}\n\n${example('drawer move 5 7 --top', 'drawer move all --by amount')}`)
      .action(async (words: string[], options: MoveOptions & PickOptions) =>
        (await import('./commands/move.ts')).move(await named(words, options, true), options, context()),
      ),
  mark: ({ program, context, named }) =>
    picking(program.command('mark [ref...]'))
      .description('label, hold or hide; say how long they stay')
      .option('--label <words>', 'what to call it; "" takes the label off')
      .option('--hold', 'neither deleted nor let go')
      .option('--release', 'no longer held')
      .option('--secret', 'shown nowhere, and gone without a trace when it goes')
      .option('--once', 'secret, and gone when it was pasted')
      .option('--open', 'no longer secret')
      .option('--for <time>', 'how long it stays: 10m, 2h, 7d; ever')
      .option('-q, --quiet', 'say nothing when all is well')
      .addHelpText(
        'after',
        `\n${referencesHelp}\n\n${example('drawer mark 3 --label "Timber quotes" --hold', 'drawer mark last --secret --for 10m')}`,
      )
      .action(async (words: string[], options: MarkOptions & PickOptions) =>
        (await import('./commands/mark.ts')).mark(await named(words, options, true), options, context()),
      ),
  edit: ({ program, context, named }) =>
    picking(program.command('edit [ref]'))
      .description('change the words, in your own editor')
      .option('-q, --quiet', 'say nothing when all is well')
      .addHelpText(
        'after',
        `\nThe editor is the one that the variable VISUAL or EDITOR names.\n\n${example('drawer edit 3')}`,
      )
      .action(async (word: string | undefined, options: { quiet?: boolean } & PickOptions) => {
        const [reference = ''] = await named(word === undefined ? [] : [word], options, false);
        return (await import('./commands/edit.ts')).edit(reference, options, context());
      }),
  split: ({ program, context, named }) =>
    picking(program.command('split [ref]'))
      .description('one into several, at its parts')
      .option('--by <what>', 'paragraph, item, row, cell, or any text between the parts')
      .option('-q, --quiet', 'say nothing when all is well')
      .addHelpText('after', `\n${example('drawer split 2 --by row', 'drawer split 4 --by ";"')}`)
      .action(async (word: string | undefined, options: SplitOptions & PickOptions) => {
        const [reference = ''] = await named(word === undefined ? [] : [word], options, false);
        return (await import('./commands/split.ts')).split(reference, options, context());
      }),
  delete: ({ program, context, named }) =>
    picking(program.command('delete [ref...]'))
      .description('out of the drawer; what is held stays')
      .option('--yes', 'what was built up of several may go too')
      .option('-q, --quiet', 'say nothing when all is well')
      .option('--json', 'as JSON, for programs')
      .addHelpText(
        'after',
        `\n${referencesHelp}\n\n${example('drawer delete 3 7-9', 'drawer delete from:survey.docx')}`,
      )
      .action(async (words: string[], options: DeleteOptions & PickOptions) =>
        (await import('./commands/delete.ts')).deleteSnippets(await named(words, options, true), options, context()),
      ),
  undo: ({ program, context }) =>
    program
      .command('undo')
      .description('take the last action back, in files too')
      .option('--list', 'what can be undone and done again')
      .option('--keep', 'what was cut goes back and stays in the drawer too')
      .option('--skip', 'pass over an action whose file has changed since, and undo the one before it')
      .option('--yes', 'do not ask')
      .option('--json', 'as JSON, for programs')
      .addHelpText('after', `\n${example('drawer undo')}`)
      .action(async (options: UndoOptions) => (await import('./commands/undo.ts')).undo(options, context())),
  redo: ({ program, context }) =>
    program
      .command('redo')
      .description('bring what was undone again')
      .option('--json', 'as JSON, for programs')
      .addHelpText('after', `\n${example('drawer redo')}`)
      .action(async (options: UndoOptions) => (await import('./commands/undo.ts')).redo(options, context())),
  rules: ({ program, context }) =>
    program
      .command('rules [name=value...]')
      .description('how much, how long, what is left out; pausing')
      .option('--pause [time]', 'gather nothing for a time (30m), until told, or go on (off)')
      .option('--lock', 'seal the drawer under a passphrase')
      .option('--unlock', 'take the lock off')
      .option('--yes', 'what there is no room for any more may go')
      .option('--json', 'as JSON, for programs')
      .addHelpText(
        'after',
        `\n${example('drawer rules', 'drawer rules most=500 full=let-go', 'drawer rules --pause 30m')}`,
      )
      .action(async (words: string[], options: RulesOptions) =>
        (await import('./commands/rules.ts')).rules(words, options, context()),
      ),
  check: ({ program, context }) =>
    program
      .command('check [file]')
      .description('read all of a drawer and say whether it is whole')
      .option('--json', 'as JSON, for programs')
      .addHelpText('after', `\n${example('drawer check')}`)
      .action(async (file: string | undefined, options: { json?: boolean }) =>
        (await import('./commands/check.ts')).check(file, options, context()),
      ),
};

/**
 * The command line. Declares only the command that the first word names, since declaring all twenty takes a while; declares
 * all of them for help, and where the word names none.
 */
export function createProgram(firstWord: string | undefined): Command {
  const program = new Command('drawer')
    .option('-d, --drawer <drawer>', 'another drawer, by its name or path')
    .helpCommand(false)
    .configureHelp({ formatHelp })
    .exitOverride()
    .configureOutput({ writeErr: (text) => void process.stderr.write(visible(text, true)) })
    .showHelpAfterError('See drawer --help');

  const context = () => createContext(process, program.opts<{ drawer?: string }>().drawer);
  const picked = async (several: boolean) => (await import('./pick.ts')).pick(context(), several);
  const named: Tools['named'] = async (words, { pick: picks }, several) => {
    if (picks) return picked(several);
    if (words.length > 0) return words;
    return program.error('error: which snippets is not said; say a number such as 3, or --pick');
  };
  const meant = Object.entries(commands).filter(([name]) => name === firstWord);
  const tools = { program, context, picked, named };
  for (const [, define] of meant.length > 0 ? meant : Object.entries(commands)) define(tools);
  return program;
}

/** What every command that gathers can be told. */
const gathering = (command: Command): Command =>
  command
    .option('--each', 'one snippet a row, item, paragraph or cell')
    .option('--as <format>', 'read as this format, such as html for standard input (-)')
    .option('--from <words>', 'from these words of the file on')
    .option('--to <words>', 'up to these words, with --from')
    .option('--hidden', 'hidden rows, columns and sheets too')
    .option('--separator <sign>', 'what parts the fields of a .csv file')
    .option('--address <url>', 'where a page came from, for its links')
    .option('--language <tag>', 'of its words: how they write numbers and dates')
    .option('-q, --quiet', 'say nothing when all is well')
    .option('--json', 'as JSON, for programs');

/** What every command that puts snippets together can be told. */
const composing = (command: Command): Command =>
  command
    .option(
      '-j, --join <how>',
      'nothing, space, line, paragraph, blank-line, sentence, bullets, numbers, checks, rows, link, or any text',
    )
    .option('--or', 'a sentence’s last one is an alternative')
    .option('--order <how>', 'given, collected, reversed, origin, label or value')
    .option('--around <pattern>', 'around each, such as "{number}. {content} ({origin}, {date})"')
    .option('--sources <how>', 'say where each is from: inline, footnotes, or a list at the end')
    .option('--tidy [what]', 'trim, blanks, spaces, lines, repeats (all, if not said); curly-quotes, straight-quotes')
    .option(
      '--totals <figures>',
      'under the amounts: sum, count, mean, smallest, largest; may be said several times',
      collect,
    )
    .option(
      '--language <tag>',
      'how numbers and dates are read, lists and new files written (else as each source says, or en-GB)',
    );

/** What every command that puts something into files can be told. */
const landing = (command: Command): Command =>
  command
    .option('-i, --into <place>', 'a new file, or a place in one; may be said several times', collect)
    .option('--side <side>', 'before, after, replace, start or end')
    .option('--style <style>', 'original, local (the place’s own) or plain; remembered')
    .option('--spread <how>', 'in a sheet: down, across, rows, cell or range')
    .option('--over', 'cells that hold something may give way')
    .option('--as-words', 'in a sheet: numbers and dates that were words stay words')
    .option('--author <name>', 'as a tracked change by this name, in a document')
    .option('-q, --quiet', 'say nothing when all is well')
    .option('--json', 'as JSON, for programs');

interface PickOptions {
  readonly pick?: boolean;
}

/** What every command that takes references can be told. */
const picking = (command: Command): Command =>
  command.option('--pick', 'choose at the terminal: type to narrow, arrows, Tab for several');

const collect = (value: string, before: readonly string[] = []): string[] => [...before, value];
