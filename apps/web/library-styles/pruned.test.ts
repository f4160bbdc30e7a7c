import { pruned, valuesUnder } from './pruned.js';

describe('a sheet without what is never drawn', () => {
  it('loses the selectors for it, and rules that have no other', () => {
    expect(pruned('.ant-btn,.ant-btn-rtl{color:red}.ant-btn-rtl{direction:rtl}')).toBe('.ant-btn{color:red}');
  });
  it('keeps the colours of our own buttons and drops the others', () => {
    const kept = '.ant-btn-color-default{a:1}.ant-btn-color-primary{a:2}.ant-btn-color-dangerous{a:3}';
    expect(pruned(`${kept}.ant-btn-color-blue{a:4}`)).toBe(kept);
  });
  it('keeps a column, but none by number', () => {
    expect(pruned('.ant-col{a:1}@media (min-width: 1px){.ant-col-md-3{a:2}.ant-row{a:3}}')).toBe(
      '.ant-col{a:1}@media (min-width: 1px){.ant-row{a:3}}',
    );
  });
  it('leaves movements and rules for classes of a like name alone', () => {
    const css = '@keyframes turn{0%{opacity:0}100%{opacity:1}}.ant-input-filling{a:1}';
    expect(pruned(css)).toBe(css);
  });
});

describe('values under several themes', () => {
  const light = '.light.x{--a:1;--b:url(data:x;y);--c:3}';
  it('are said once where they are the same, and then what differs', () => {
    expect(valuesUnder([light, '.dark.x{--a:1;--b:url(data:x;y);--c:4}', '.sun.x{--a:1;--b:2;--c:3}'])).toBe(
      '.light.x,.dark.x,.sun.x{--a:1;--b:url(data:x;y);--c:3}.dark.x{--c:4}.sun.x{--b:2}',
    );
  });
  it('are left out where nothing reads them', () => {
    expect(valuesUnder([light, '.dark.x{--a:2;--b:3;--c:4}'], (name) => name === '--c')).toBe(
      '.light.x,.dark.x{--c:3}.dark.x{--c:4}',
    );
    expect(valuesUnder([light, light], () => false)).toBe('');
  });
  it('must be the same ones under all themes', () => {
    expect(() => valuesUnder([light, '.dark.x{--a:1}'])).toThrow('.light.x has other values under another theme');
    expect(() => valuesUnder([light, '.dark.x{--a:1;--b:2;--d:3}'])).toThrow('.light.x has other values');
    expect(() => valuesUnder([light, ''])).toThrow('.light.x has other values');
  });
});
