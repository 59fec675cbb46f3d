import { type Argument, type Command, Help } from 'commander';

/** The list of commands fits a screen of 80 × 24; those of single commands are as usual. */
export function formatHelp(command: Command, helper: Help): string {
  if (command.parent) return Help.prototype.formatHelp.call(helper, command, helper);
  const rows = command.commands.map((each) => [termOf(each), each.description()] as const);
  const width = Math.max(...rows.map(([term]) => term.length));
  return [
    'Usage: drawer COMMAND …, such as drawer copy survey.docx; drawer COMMAND --help',
    ...rows.map(([term, description]) => `  ${term.padEnd(width)}  ${description}`),
    '',
    'Each takes --drawer NAME or PATH, else DRAWER or your own. See also --version.',
    '',
  ].join('\n');
}

/** A command with its arguments, as the list of commands has it: `copy <place...>`. */
const termOf = (command: Command): string =>
  [command.name(), ...command.registeredArguments.map(argumentTerm)].join(' ');

function argumentTerm(argument: Argument): string {
  const term = argument.variadic ? `${argument.name()}...` : argument.name();
  return argument.required ? `<${term}>` : `[${term}]`;
}

export const example = (...lines: string[]): string => `Example:\n${lines.map((line) => `  ${line}`).join('\n')}`;

export const placesHelp = `A place is FILE, for all of it, or FILE#place:
  #section=Hull condition    #paragraph=4-6    #table=2    #table=2!Price
  #5 or #2,4-6               by the numbers of the outline
  #Timber!B2:D9              cells of a workbook’s sheet; several areas as #B2,B4,D:D
  #:~:text=from%20here,to%20there
drawer outline FILE shows what a file offers.`;

export const landingHelp = `A place to paste into is FILE, for its end, or FILE#place, as drawer outline FILE shows them:
  application.docx#section=Background    notes.md#:~:text=after%20these%20words
  budget.xlsx#Lines!B4                   costs.csv#row=5
  survey.docx#table=1!B2                 survey.docx#table=1!row=3 for new rows there`;

export const referencesHelp = `REF is a number (3), a range (2-5, 12-, -3, last-4..last), a list (3,5,7-9), first,
last, last-1, all, or new (what the last gather kept); or what fits:
  held, label:hull, from:survey.docx, is:table`;
