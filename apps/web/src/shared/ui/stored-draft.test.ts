import { dropDrafts, fittingFields, isFields, readDraft } from './stored-draft.js';

beforeEach(() => sessionStorage.clear());

describe('what was typed before a reload', () => {
  it.each(['{half', 'null', '[]', '"text"', '12'])('%s is dropped, not thrown at the page', (text) => {
    sessionStorage.setItem('draft.course.new', text);
    const draft = readDraft(sessionStorage, 'draft.course.new', (value) => (isFields(value) ? value : undefined));
    expect(draft).toBeUndefined();
    expect(sessionStorage.getItem('draft.course.new')).toBeNull();
  });

  it('comes back where it fits the form of now, and only there', () => {
    const form = { name: '', levels: [{ name: '1' }], fit: { washers: 2, place: null }, price: null };
    const draft = {
      name: 'Corvane R2',
      levels: 'one, two',
      fit: { washers: 3, place: 'rear-rack', gone: [1] },
      price: 340,
      cutoff: { of: 'an earlier version' },
    };
    expect(fittingFields(draft, form)).toEqual({
      name: 'Corvane R2',
      fit: { washers: 3, place: 'rear-rack', gone: [1] },
      price: 340,
      cutoff: { of: 'an earlier version' },
    });
    expect(fittingFields({ name: ['a', 'list'], fit: 'flat' }, form)).toEqual({});
  });

  it('can be taken away when a page breaks on it', () => {
    sessionStorage.setItem('draft.course.new', '{}');
    sessionStorage.setItem('other', '1');
    expect([dropDrafts(sessionStorage), dropDrafts(sessionStorage)]).toEqual([true, false]);
    expect(sessionStorage.getItem('other')).toBe('1');
  });
});
