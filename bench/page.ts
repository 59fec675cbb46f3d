// What the browser measures of the panel: runs in the page, asked by `pages.mjs`.
import type { Drawer } from 'drawer';
import { type DrawerPanel, definePanel, openDrawer } from 'drawer/browser';
import { connectDrawer } from 'drawer/connect';

declare global {
  interface Window {
    bench: typeof bench;
  }
}

definePanel();
/** The drawer of the browser's by its name, or the one that is served at an address. */
const drawerOf = (name: string): Promise<Drawer> => (/^ws:/.test(name) ? connectDrawer(name) : openDrawer(name));
const frame = (): Promise<number> => new Promise(requestAnimationFrame);
const panelIn = (drawer?: Drawer): DrawerPanel => {
  document.querySelector('drawer-panel')?.remove();
  const panel = document.createElement('drawer-panel');
  if (drawer) panel.drawer = drawer;
  document.body.append(panel);
  return panel;
};
const inside = (panel: DrawerPanel, selector: string): Element | null =>
  panel.shadowRoot?.querySelector(selector) ?? null;

const bench = {
  /** Milliseconds until an answer is there that takes no work, on average. */
  async roundTrip(name: string): Promise<number> {
    const drawer = await drawerOf(name);
    await drawer.isLocked();
    const start = performance.now();
    for (let turn = 0; turn < 50; turn++) await drawer.isLocked();
    return (performance.now() - start) / 50;
  },

  /** Fills a drawer, in portions as an import has them. */
  async fill(name: string, gatherings: Parameters<Drawer['keep']>[0]): Promise<number> {
    const drawer = await openDrawer(name);
    await drawer.keep(gatherings);
    return drawer.count();
  },

  /** Frames and milliseconds until a panel of an open drawer shows what is in it. */
  async show(name: string, selector: string): Promise<{ frames: number; milliseconds: number }> {
    const drawer = await drawerOf(name);
    await drawer.count();
    await frame();
    const start = performance.now();
    const panel = panelIn(drawer);
    for (let frames = 1; ; frames++) {
      await frame();
      if (inside(panel, selector)) return { frames, milliseconds: performance.now() - start };
    }
  },

  /** Milliseconds that the page is at work for each letter, and until what is found is shown. */
  async type(name: string, words: readonly string[]): Promise<{ work: number[]; shown: number[] }> {
    const drawer = await drawerOf(name);
    const panel = panelIn(drawer);
    while (!inside(panel, '[role="option"]')) await frame();
    await new Promise((done) => setTimeout(done, 4_000)); // people do not type before they see anything
    const field = inside(panel, 'input[type="search"]') as HTMLInputElement;
    const work: number[] = [];
    const shown: number[] = [];
    const put = async (value: string): Promise<void> => {
      const start = performance.now();
      field.value = value;
      field.dispatchEvent(new Event('input', { bubbles: true }));
      work.push(performance.now() - start);
      const before = inside(panel, '.slips')?.innerHTML;
      let longest = 0;
      for (let turn = 0; turn < 60; turn++) {
        const from = performance.now();
        await new Promise((next) => setTimeout(next));
        longest = Math.max(longest, performance.now() - from);
        if (inside(panel, '.slips')?.innerHTML !== before) break;
      }
      shown.push(performance.now() - start);
      work.push(longest);
      await frame();
      await frame();
    };
    for (const word of words) {
      for (let end = 1; end <= word.length; end++) await put(word.slice(0, end));
      await put('');
    }
    return { work, shown };
  },

  /** The longest task while the list is scrolled from its start to its end, in milliseconds. */
  async scroll(name: string): Promise<{ longest: number; steps: number }> {
    const drawer = await drawerOf(name);
    const panel = panelIn(drawer);
    while (!inside(panel, '[role="option"]')) await frame();
    await new Promise((done) => setTimeout(done, 4_000));
    const list = scroller(panel);
    let longest = 0;
    const observer = new PerformanceObserver((found) => {
      for (const { duration } of found.getEntries()) longest = Math.max(longest, duration);
    });
    observer.observe({ type: 'longtask' });
    let steps = 0;
    for (; steps < 300; steps++) {
      list.scrollTop += steps < 200 ? 300 : list.scrollHeight / 100; // by the wheel, then by the bar
      await frame();
    }
    await new Promise((done) => setTimeout(done, 200));
    observer.disconnect();
    return { longest, steps };
  },
};

/** What scrolls in the panel. */
function scroller(panel: DrawerPanel): Element {
  const found = [...(panel.shadowRoot?.querySelectorAll('*') ?? [])].find(
    (element) => element.scrollHeight > element.clientHeight + 100 && element.clientHeight > 100,
  );
  if (!found) throw new Error('nothing scrolls');
  return found;
}

window.bench = bench;
document.documentElement.dataset.ready = '';
