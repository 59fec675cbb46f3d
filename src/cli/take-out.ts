import { plural } from '../content/index.ts';
import { type Change, type Drawer, type Snippet, takingOut } from '../drawer/index.ts';
import type { Context } from './context.ts';

/** What of some snippets leaves the drawer with `--take-out`, and how that is said once it has. */
interface Leaving {
  readonly changes: readonly Change[];
  say(context: Context): void;
}

/** What is held stays; a secret cannot be brought back. */
export function leaving(snippets: readonly Snippet[]): Leaving {
  const unique = [...new Map(snippets.map((each) => [each.id, each])).values()];
  const secrets = unique.filter(({ secret, held }) => secret && !held).length;
  return {
    changes: takingOut(unique),
    say: (context) => {
      sayHeld(unique, context);
      if (secrets > 0) context.remark(`${plural(secrets, 'secret')} gone for good.`);
    },
  };
}

/** Those that stay since they are held. */
export function sayHeld(snippets: readonly Snippet[], { remark }: Context): void {
  const held = snippets.filter((each) => each.held).length;
  if (held > 0) remark(`${plural(held, 'held one')} ${held === 1 ? 'stays' : 'stay'} (drawer mark held --release).`);
}

/** Takes out what was pasted, as an action of its own. */
export async function takeOut(drawer: Drawer, snippets: readonly Snippet[], context: Context): Promise<void> {
  const { say } = leaving(snippets);
  await drawer.remove(
    snippets.map(({ id }) => id),
    { builtUp: true },
  );
  say(context);
}
