import { Command, type CommanderError, Help } from 'commander';
import type { CommandName } from '../messages/index.ts';
import type { CommandWords } from './command-words.ts';
import type { AppendOptions } from './commands/append.ts';
import type { CopyOptions } from './commands/copy.ts';
import type { DeleteOptions } from './commands/delete.ts';
import type { DeskOptions } from './commands/desk.ts';
import type { FillOptions } from './commands/fill.ts';
import type { ListOptions } from './commands/list.ts';
import type { MarkOptions } from './commands/mark.ts';
import type { MergeOptions } from './commands/merge.ts';
import type { MoveOptions } from './commands/move.ts';
import type { NextOptions } from './commands/next.ts';
import type { OutlineOptions } from './commands/outline.ts';
import type { PasteOptions } from './commands/paste.ts';
import type { RenewOptions } from './commands/renew.ts';
import type { RulesOptions } from './commands/rules.ts';
import type { SplitOptions } from './commands/split.ts';
import type { SyncCommandOptions } from './commands/sync.ts';
import type { UndoOptions } from './commands/undo.ts';
import { type Context, createContext } from './context.ts';
import type { GatherOptions } from './gather.ts';
import { formatHelp } from './help.ts';

/** A phrase of the command's help, in the language of the terminal. */
type Say = (name: CommandName) => string;

/** What a command is declared with. */
interface Tools {
  readonly program: Command;
  readonly context: () => Context;
  readonly say: Say;
  /** Lines of a terminal, as an example. */
  readonly example: (...lines: readonly string[]) => string;
  /** Snippets that somebody picks at the terminal. */
  readonly picked: (several: boolean) => Promise<readonly string[]>;
  /** What is named, or else picked. */
  readonly named: (words: readonly string[], options: PickOptions, several: boolean) => Promise<readonly string[]>;
}

/** What each command is called and takes; its code is loaded only when it runs. */
const commands: { readonly [name: string]: (tools: Tools) => Command } = {
  outline: ({ program, context, say, example }) =>
    program
      .command('outline <file>')
      .description(say('command.outline'))
      .option('--as <format>', say('option.as'))
      .option('--paragraphs', say('option.paragraphs'))
      .option('--columns', say('option.columns'))
      .option('--fields', say('option.fields'))
      .option('--json', say('option.json'))
      .addHelpText('after', `\n${example('drawer outline survey.docx', 'drawer outline claim.docx --fields')}`)
      .action(async (file: string, options: OutlineOptions) =>
        (await import('./commands/outline.ts')).outline(file, options, context()),
      ),
  copy: ({ program, context, say, example }) =>
    gathering(say, program.command('copy [place...]'))
      .description(say('command.copy'))
      .option('-t, --text <words>', say('option.text'), collect)
      .option('--pick', say('option.pickPlace'))
      .option('--follow', say('option.followCopies'))
      .addHelpText(
        'after',
        `\n${say('help.places')}\n\n${example("drawer copy 'survey.docx#section=Hull condition' 'costs.xlsx#Timber!A1:D6'")}`,
      )
      .action(async (places: string[], options: CopyOptions & PickOptions) =>
        (await import('./commands/copy.ts')).copy(
          options.pick ? await (await import('./pick-place.ts')).pickPlaces(places, options, context()) : places,
          options,
          context(),
        ),
      ),
  cut: ({ program, context, say, example }) =>
    gathering(say, program.command('cut <place...>'))
      .description(say('command.cut'))
      .addHelpText('after', `\n${example("drawer cut 'log.md#section=To do'", 'drawer undo')}`)
      .action(async (places: string[], options: GatherOptions) =>
        (await import('./commands/cut.ts')).cut(places, options, context()),
      ),
  append: ({ program, context, picked, say, example }) =>
    picking(say, gathering(say, program.command('append [place...]')))
      .description(say('command.append'))
      .option('-t, --text <words>', say('option.text'), collect)
      .option('--onto <ref>', say('option.onto'))
      .option('-j, --join <how>', say('option.joinAppend'))
      .addHelpText('after', `\n${example("drawer append 'survey.docx#paragraph=4' --join space")}`)
      .action(async (places: string[], options: AppendOptions & PickOptions) => {
        const [onto = options.onto] = options.pick ? await picked(false) : [];
        return (await import('./commands/append.ts')).append(places, { ...options, ...(onto && { onto }) }, context());
      }),
  list: ({ program, context, picked, say, example }) =>
    picking(say, program.command('list [ref...]'))
      .description(say('command.list'))
      .option('--newest', say('option.newest'))
      .option('--long', say('option.long'))
      .option('--follow', say('option.follow'))
      .option('--drawers', say('option.drawers'))
      .option('--json', say('option.json'))
      .addHelpText(
        'after',
        `\n${say('help.references')}\n\n${example('drawer list', 'drawer list 51-100', 'drawer list held')}`,
      )
      .action(async (references: string[], options: ListOptions & PickOptions) =>
        (await import('./commands/list.ts')).list(options.pick ? await picked(true) : references, options, context()),
      ),
  show: ({ program, context, named, say, example }) =>
    picking(say, program.command('show [ref...]'))
      .description(say('command.show'))
      .option('--json', say('option.json'))
      .addHelpText('after', `\n${say('help.references')}\n\n${example('drawer show 2', 'drawer show last')}`)
      .action(async (words: string[], options: { json?: boolean } & PickOptions) =>
        (await import('./commands/show.ts')).show(await named(words, options, true), options, context()),
      ),
  find: ({ program, context, say, example }) =>
    program
      .command('find <word...>')
      .description(say('command.find'))
      .option('--json', say('option.json'))
      .addHelpText(
        'after',
        `\n${say('help.find')}\n\n${example('drawer find oak', 'drawer find from:costs is:table larch')}`,
      )
      .action(async (words: string[], options: { json?: boolean }) =>
        (await import('./commands/find.ts')).find(words, options, context()),
      ),
  paste: ({ program, context, named, say, example }) =>
    composing(say, landing(say, picking(say, program.command('paste [ref...]'))))
      .description(say('command.paste'))
      .option('--as <format>', say('option.print'), 'text')
      .option('--take-out', say('option.takeOut'))
      .option('--linked', say('option.linked'))
      .option('--preview', say('option.preview'))
      .addHelpText(
        'after',
        `\n${say('help.references')}\n\n${say('help.landing')}\n\n${example(
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
  next: ({ program, context, say, example }) =>
    landing(say, program.command('next'))
      .description(say('command.next'))
      .option('--as <format>', say('option.print'), 'text')
      .option('--across', say('option.across'))
      .option('--follow', say('option.followNext'))
      .option('--skip', say('option.skip'))
      .option('--back', say('option.back'))
      .option('--restart', say('option.restart'))
      .option('--peek', say('option.peek'))
      .option('--take-out', say('option.takeOut'))
      .option('--language <tag>', say('option.languageNext'))
      .addHelpText(
        'after',
        `\n${say('help.next')}\n\n${example("drawer next --into 'budget.xlsx#Lines!B4'", 'drawer next')}`,
      )
      .action(async (options: NextOptions) => (await import('./commands/next.ts')).next(options, context())),
  merge: ({ program, context, named, say, example }) =>
    composing(say, picking(say, program.command('merge [ref...]')))
      .description(say('command.merge'))
      .option('--label <words>', say('option.label'))
      .option('--take-out', say('option.takeOutMerged'))
      .option('-q, --quiet', say('option.quiet'))
      .option('--json', say('option.json'))
      .addHelpText(
        'after',
        `\n${say('help.references')}\n\n${example('drawer merge 2-4 --join bullets --label "Timber quotes"')}`,
      )
      .action(async (words: string[], options: MergeOptions & PickOptions) =>
        (await import('./commands/merge.ts')).merge(await named(words, options, true), options, context()),
      ),
  fill: ({ program, context, picked, say, example }) =>
    picking(say, program.command('fill <form>'))
      .description(say('command.fill'))
      .option('-i, --into <file>', say('option.intoNew'))
      .option('--slot <name=ref>', say('option.slot'), collect)
      .option('--by <way>', say('option.byMatch'))
      .option('--from <ref>', say('option.fromOnly'), collect)
      .option('--preview', say('option.previewFill'))
      .option('--language <tag>', say('option.languageFill'))
      .option('-q, --quiet', say('option.quiet'))
      .option('--json', say('option.json'))
      .addHelpText('after', `\n${example('drawer fill claim.docx --into claim-filled.docx --slot Claimant=2')}`)
      .action(async (form: string, options: FillOptions & PickOptions) => {
        const from = options.pick ? { from: await picked(true) } : {};
        return (await import('./commands/fill.ts')).fill(form, { ...options, ...from }, context());
      }),
  move: ({ program, context, named, say, example }) =>
    picking(say, program.command('move [ref...]'))
      .description(say('command.move'))
      .option('--before <ref>', say('option.before'))
      .option('--after <ref>', say('option.after'))
      .option('--top', say('option.top'))
      .option('--end', say('option.end'))
      .option('--by <what>', say('option.bySort'))
      .option('-q, --quiet', say('option.quiet'))
      .addHelpText(
        'after',
        `\n${say('help.references')}\n\n${example('drawer move 5 7 --top', 'drawer move all --by amount')}`,
      )
      .action(async (words: string[], options: MoveOptions & PickOptions) =>
        (await import('./commands/move.ts')).move(await named(words, options, true), options, context()),
      ),
  mark: ({ program, context, named, say, example }) =>
    picking(say, program.command('mark [ref...]'))
      .description(say('command.mark'))
      .option('--label <words>', say('option.labelOff'))
      .option('--hold', say('option.hold'))
      .option('--release', say('option.release'))
      .option('--secret', say('option.secret'))
      .option('--once', say('option.once'))
      .option('--open', say('option.open'))
      .option('--for <time>', say('option.for'))
      .option('-q, --quiet', say('option.quiet'))
      .addHelpText(
        'after',
        `\n${say('help.references')}\n\n${example('drawer mark 3 --label "Timber quotes" --hold', 'drawer mark last --secret --for 10m')}`,
      )
      .action(async (words: string[], options: MarkOptions & PickOptions) =>
        (await import('./commands/mark.ts')).mark(await named(words, options, true), options, context()),
      ),
  edit: ({ program, context, named, say, example }) =>
    picking(say, program.command('edit [ref]'))
      .description(say('command.edit'))
      .option('-q, --quiet', say('option.quiet'))
      .addHelpText('after', `\n${say('help.edit')}\n\n${example('drawer edit 3')}`)
      .action(async (word: string | undefined, options: { quiet?: boolean } & PickOptions) => {
        const [reference = ''] = await named(word === undefined ? [] : [word], options, false);
        return (await import('./commands/edit.ts')).edit(reference, options, context());
      }),
  renew: ({ program, context, named, say, example }) =>
    picking(say, program.command('renew [ref...]'))
      .description(say('command.renew'))
      .option('-i, --into <file>', say('option.renewInto'), collect)
      .option('--folder <folder>', say('option.folder'))
      .option('--over', say('option.over'))
      .option('--yes', say('option.yesRenew'))
      .option('-q, --quiet', say('option.quiet'))
      .option('--json', say('option.json'))
      .addHelpText(
        'after',
        `\n${say('help.references')}\n\n${example(
          'drawer renew all',
          'drawer renew 2-4 --yes',
          'drawer renew --into report.docx',
        )}`,
      )
      .action(async (words: string[], options: RenewOptions & PickOptions) => {
        const { renew, renewInto } = await import('./commands/renew.ts');
        const isAll = options.into !== undefined && words.length === 0 && !options.pick;
        const references = isAll ? [] : await named(words, options, true);
        return options.into
          ? renewInto(references, options.into, options, context())
          : renew(references, options, context());
      }),
  split: ({ program, context, named, say, example }) =>
    picking(say, program.command('split [ref]', { hidden: true }))
      .description(say('command.split'))
      .option('--by <what>', say('option.byParts'))
      .option('-q, --quiet', say('option.quiet'))
      .addHelpText('after', `\n${example('drawer split 2 --by row', 'drawer split 4 --by ";"')}`)
      .action(async (word: string | undefined, options: SplitOptions & PickOptions) => {
        const [reference = ''] = await named(word === undefined ? [] : [word], options, false);
        return (await import('./commands/split.ts')).split(reference, options, context());
      }),
  delete: ({ program, context, named, say, example }) =>
    picking(say, program.command('delete [ref...]'))
      .description(say('command.delete'))
      .option('--yes', say('option.yesDelete'))
      .option('-q, --quiet', say('option.quiet'))
      .option('--json', say('option.json'))
      .addHelpText(
        'after',
        `\n${say('help.references')}\n\n${example('drawer delete 3 7-9', 'drawer delete from:survey.docx')}`,
      )
      .action(async (words: string[], options: DeleteOptions & PickOptions) =>
        (await import('./commands/delete.ts')).deleteSnippets(await named(words, options, true), options, context()),
      ),
  undo: ({ program, context, say, example }) =>
    program
      .command('undo')
      .description(say('command.undo'))
      .option('--list', say('option.listUndo'))
      .option('--keep', say('option.keepCut'))
      .option('--skip', say('option.skipUndo'))
      .option('--yes', say('option.yesUndo'))
      .option('--json', say('option.json'))
      .addHelpText('after', `\n${example('drawer undo')}`)
      .action(async (options: UndoOptions) => (await import('./commands/undo.ts')).undo(options, context())),
  redo: ({ program, context, say, example }) =>
    program
      .command('redo', { hidden: true }) // listed with undo
      .description(say('command.redo'))
      .option('--json', say('option.json'))
      .addHelpText('after', `\n${example('drawer redo')}`)
      .action(async (options: UndoOptions) => (await import('./commands/undo.ts')).redo(options, context())),
  rules: ({ program, context, say, example }) =>
    program
      .command('rules [name=value...]')
      .description(say('command.rules'))
      .option('--pause [time]', say('option.pause'))
      .option('--lock', say('option.lock'))
      .option('--unlock', say('option.unlock'))
      .option('--yes', say('option.yesRules'))
      .option('--json', say('option.json'))
      .addHelpText(
        'after',
        `\n${example('drawer rules', 'drawer rules most=500 full=let-go', 'drawer rules --pause 30m')}`,
      )
      .action(async (words: string[], options: RulesOptions) =>
        (await import('./commands/rules.ts')).rules(words, options, context()),
      ),
  check: ({ program, context, say, example }) =>
    program
      .command('check [file]')
      .description(say('command.check'))
      .option('--json', say('option.json'))
      .addHelpText('after', `\n${example('drawer check')}`)
      .action(async (file: string | undefined, options: { json?: boolean }) =>
        (await import('./commands/check.ts')).check(file, options, context()),
      ),
  sync: ({ program, context, say, example }) =>
    program
      .command('sync [address]')
      .description(say('command.sync'))
      .option('--name <name>', say('option.syncName'))
      .option('--follow', say('option.syncFollow'))
      .option('--new-passphrase', say('option.syncNewPassphrase'))
      .option('--json', say('option.json'))
      .addHelpText(
        'after',
        `\n${say('help.sync')}\n\n${example('drawer sync', 'drawer sync /media/stick/drawer', 'drawer sync ~/Shared/drawer --follow', 'drawer sync nats://ferry.example/office')}`,
      )
      .action(async (address: string | undefined, options: SyncCommandOptions) =>
        (await import('./commands/sync.ts')).sync(address, options, context()),
      ),
  desk: ({ program, context, say, example }) =>
    program
      .command('desk [file...]')
      .description(say('command.desk'))
      .option('--port <number>', say('option.port'))
      .option('--no-open', say('option.noOpen'))
      .option('--stay', say('option.stay'))
      .option('--author <name>', say('option.author'))
      .addHelpText('after', `\n${example('drawer desk', 'drawer desk survey.docx costs.xlsx')}`)
      .action(async (files: string[], options: DeskOptions) =>
        (await import('./commands/desk.ts')).desk(files, options, context()),
      ),
};

/**
 * The command line. Declares only the command that the first word names, since declaring all twenty takes a while; declares
 * all of them for help, and where the word names none.
 */
export function createProgram(firstWord: string | undefined, words: CommandWords): Command {
  const say: Say = (name) => words.tell(name);
  const program = new Command('drawer')
    .option('-d, --drawer <drawer>', say('option.drawer'))
    .helpCommand(false)
    .helpOption('-h, --help', say('option.help'))
    .configureHelp({
      formatHelp: (command, helper) => formatHelp(command, helper, words),
      commandUsage: (command) => new Help().commandUsage(command).replace('[options]', say('options')),
      styleTitle: (title) => titles(say)[title] ?? title,
    })
    .exitOverride()
    .configureOutput({ outputError: () => {} }); // `usageProblem` says it

  const context = () => createContext(process, program.opts<{ drawer?: string }>().drawer, words);
  const picked = async (several: boolean) => (await import('./pick.ts')).pick(context(), several);
  const named: Tools['named'] = async (references, { pick: picks }, several) => {
    if (picks) return picked(several);
    if (references.length > 0) return references;
    return program.error(say('usage.nothingNamed'));
  };
  const meant = Object.entries(commands).filter(([name]) => name === firstWord);
  const example: Tools['example'] = (...lines) => `${say('example')}\n${lines.map((line) => `  ${line}`).join('\n')}`;
  const tools = { program, context, picked, named, say, example };
  for (const [, define] of meant.length > 0 ? meant : Object.entries(commands)) define(tools);
  return program;
}

/** The titles of the help of a command, by what the package calls them. */
const titles = (say: Say): { readonly [title: string]: string } => ({
  'Usage:': say('title.usage'),
  'Arguments:': say('title.arguments'),
  'Options:': say('title.options'),
});

/** What is wrong with a command line, and what may have been meant. */
export function usageProblem({ code, message }: CommanderError, words: CommandWords): string {
  const phrase = problems[code];
  if (phrase === undefined) return message;
  const name = /'([^']*)'/.exec(message)?.[1] ?? '';
  const meant = /\(Did you mean (?:\w+ \w+ )?(\S.*?)\?\)/.exec(message)?.[1];
  return [
    words.tell(phrase, { name }),
    ...(meant === undefined ? [] : [words.tell('usage.meant', { name: meant })]),
  ].join('\n');
}

/** By the codes of the package that reads the command line. */
const problems: { readonly [code: string]: CommandName } = {
  'commander.unknownOption': 'usage.unknownOption',
  'commander.unknownCommand': 'usage.unknownCommand',
  'commander.missingArgument': 'usage.missingArgument',
  'commander.optionMissingArgument': 'usage.optionMissingArgument',
  'commander.excessArguments': 'usage.excessArguments',
};

/** What every command that gathers can be told. */
const gathering = (say: Say, command: Command): Command =>
  command
    .option('--each', say('option.each'))
    .option('--as <format>', say('option.asInput'))
    .option('--from <words>', say('option.from'))
    .option('--to <words>', say('option.to'))
    .option('--hidden', say('option.hidden'))
    .option('--separator <sign>', say('option.separator'))
    .option('--address <url>', say('option.address'))
    .option('--language <tag>', say('option.languageGather'))
    .option('-q, --quiet', say('option.quiet'))
    .option('--json', say('option.json'));

/** What every command that puts snippets together can be told. */
const composing = (say: Say, command: Command): Command =>
  command
    .option('-j, --join <how>', say('option.join'))
    .option('--or', say('option.or'))
    .option('--order <how>', say('option.order'))
    .option('--around <pattern>', say('option.around'))
    .option('--sources <how>', say('option.sources'))
    .option('--tidy [what]', say('option.tidy'))
    .option('--totals <figures>', say('option.totals'), collect)
    .option('--language <tag>', say('option.languageCompose'));

/** What every command that puts something into files can be told. */
const landing = (say: Say, command: Command): Command =>
  command
    .option('-i, --into <place>', say('option.into'), collect)
    .option('--side <side>', say('option.side'))
    .option('--style <style>', say('option.style'))
    .option('--spread <how>', say('option.spread'))
    .option('--over', say('option.over'))
    .option('--as-words', say('option.asWords'))
    .option('--author <name>', say('option.author'))
    .option('-q, --quiet', say('option.quiet'))
    .option('--json', say('option.json'));

interface PickOptions {
  readonly pick?: boolean;
}

/** What every command that takes references can be told. */
const picking = (say: Say, command: Command): Command => command.option('--pick', say('option.pick'));

const collect = (value: string, before: readonly string[] = []): string[] => [...before, value];
