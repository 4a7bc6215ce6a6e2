import { beforeEach, describe, expect, it } from 'vitest';

import { dropDraft, loadDraft, saveDraft } from './draft.ts';

/** The part of the browser's storage that drafts use. */
function storage(): Storage {
  const values = new Map<string, string>();
  return {
    get length() {
      return values.size;
    },
    clear: () => values.clear(),
    getItem: (key) => values.get(key) ?? null,
    key: (i) => [...values.keys()][i] ?? null,
    removeItem: (key) => void values.delete(key),
    setItem: (key, value) => void values.set(key, value),
  };
}

beforeEach(() => {
  globalThis.localStorage = storage();
});

describe('numbers typed before the hand-in', () => {
  const draft = { mass: { text: '12,5', unit: 'kg' } };

  it('are there again after a reload', () => {
    saveDraft('3', 7, draft);
    expect(loadDraft('3', 7)).toEqual(draft);
  });

  it('belong to one student and one exercise, also on a shared computer', () => {
    saveDraft('3', 7, draft);
    expect(loadDraft('3', 8)).toEqual({});
    expect(loadDraft('4', 7)).toEqual({});
  });

  it('are gone after the hand-in', () => {
    saveDraft('3', 7, draft);
    dropDraft('3', 7);
    expect(loadDraft('3', 7)).toEqual({});
  });

  it('that somebody meddled with are left alone, not shown', () => {
    saveDraft('3', 7, draft);
    localStorage.setItem(localStorage.key(0) ?? '', '{"mass": 5}');
    expect(loadDraft('3', 7)).toEqual({});
    localStorage.setItem(localStorage.key(0) ?? '', 'not json');
    expect(loadDraft('3', 7)).toEqual({});
  });
});
