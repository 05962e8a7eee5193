import { type ComponentType, lazy } from 'react';

// Each screen but the shelf is a script of its own: the shelf loads no kernel, formula grammar or editor.

const loaders = {
  stacks: () => import('../stacks/Stacks'),
  loom: () => import('../loom/Loom'),
  swatches: () => import('../swatches/Swatches'),
  exports: () => import('../exports/Exports'),
  health: () => import('../health/Health'),
  trash: () => import('../health/Trash'),
};

const screen = <M, K extends keyof M>(load: () => Promise<M>, name: K & (M[K] extends ComponentType ? K : never)) =>
  lazy(async () => ({ default: (await load())[name] as ComponentType }));

export const Stacks = screen(loaders.stacks, 'Stacks');
export const Loom = screen(loaders.loom, 'Loom');
export const Swatches = screen(loaders.swatches, 'Swatches');
export const Exports = screen(loaders.exports, 'Exports');
export const Health = screen(loaders.health, 'Health');
export const Trash = screen(loaders.trash, 'Trash');

/** A reload after a failed load is not tried again within this time, in milliseconds. */
const RELOAD_PAUSE = 10_000;

/**
 * Loads the scripts of a target's screens and the engine when the pointer or the keyboard comes to a link to a target, before it is pressed.
 * A script that is no longer there, since the server was updated, is answered by a reload of the page.
 */
export function preloadOnIntent(): void {
  const near = ({ target }: Event): void => {
    if (!(target instanceof Element) || !target.closest('a[href^="/targets/"]')) return;
    document.removeEventListener('pointerover', near);
    document.removeEventListener('focusin', near);
    void preloadTarget();
  };
  document.addEventListener('pointerover', near);
  document.addEventListener('focusin', near);
  if (location.pathname.startsWith('/targets/')) void preloadTarget();
  window.addEventListener('vite:preloadError', (event) => {
    const last = Number(sessionStorage.getItem('reloaded') ?? 0);
    if (Date.now() - last < RELOAD_PAUSE) return;
    event.preventDefault();
    sessionStorage.setItem('reloaded', String(Date.now()));
    location.reload();
  });
}

async function preloadTarget(): Promise<void> {
  // A load that fails here is tried again, and told, when its screen is opened.
  await Promise.allSettled([
    import('../engine/worker-client').then(({ warmEngine }) => warmEngine()),
    loaders.loom(),
    loaders.stacks(),
  ]);
}
