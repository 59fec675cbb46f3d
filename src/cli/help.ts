import { type Argument, type Command, Help } from 'commander';
import type { CommandWords } from './command-words.ts';

/** The list of commands fits a screen of 80 × 24; those of single commands are as usual. */
export function formatHelp(command: Command, helper: Help, words: CommandWords): string {
  if (command.parent) return Help.prototype.formatHelp.call(helper, command, helper);
  const rows = helper.visibleCommands(command).map((each) => listed(each, words));
  const width = Math.max(...rows.map(([term]) => term.length));
  return [
    words.tell('usage'),
    ...rows.map(([term, description]) => `  ${term.padEnd(width)}  ${description}`),
    words.tell('everyCommand'),
    '',
  ].join('\n');
}

/** A command as the list has it. Two that are each other's opposite share a line; the second one is hidden. */
function listed(command: Command, words: CommandWords): readonly [string, string] {
  if (command.name() === 'undo') return ['undo, redo', command.description()];
  if (command.name() === 'merge') return ['merge, split [ref...]', words.tell('mergeAndSplit')];
  return [termOf(command), command.description()];
}

/** A command with its arguments, as the list of commands has it: `copy <place...>`. */
const termOf = (command: Command): string =>
  [command.name(), ...command.registeredArguments.map(argumentTerm)].join(' ');

function argumentTerm(argument: Argument): string {
  const term = argument.variadic ? `${argument.name()}...` : argument.name();
  return argument.required ? `<${term}>` : `[${term}]`;
}
