import { useState } from 'react';

/** A text that outlives a reload of the page, by the name that it is kept under; the empty text is forgotten. */
export function useKeptText(name: string): readonly [string, (text: string) => void] {
  const key = `zorvet text ${name}`;
  const [text, setText] = useState(() => localStorage.getItem(key) ?? '');
  const [known, setKnown] = useState(key);
  if (known !== key) {
    setKnown(key);
    setText(localStorage.getItem(key) ?? '');
  }
  const keep = (next: string): void => {
    setText(next);
    try {
      if (next === '') localStorage.removeItem(key);
      else localStorage.setItem(key, next);
    } catch {
      // A full or forbidden store keeps nothing; the text is still on the page.
    }
  };
  return [text, keep];
}
