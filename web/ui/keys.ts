import { useEffect } from 'react';

/** Whether a key is meant for the page rather than for a field, a dialog, or the browser. */
const isForPage = (event: KeyboardEvent): boolean =>
  !event.ctrlKey &&
  !event.metaKey &&
  !event.altKey &&
  !(event.target instanceof HTMLElement && event.target.closest('input, select, textarea, [role="dialog"]') !== null);

/** What single keys do while a part of the page is there; the list of keys in the shell names them. */
export function usePageKeys(actions: Readonly<Record<string, (() => void) | undefined>>): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const action = isForPage(event) ? actions[event.key] : undefined;
      if (action === undefined) return;
      event.preventDefault();
      action();
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  });
}
