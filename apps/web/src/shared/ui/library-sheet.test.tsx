import { render, screen } from '@testing-library/react';
import { ConfigProvider } from 'antd';
import { DesignTokenContext } from 'antd/es/theme/context';
import type { ReactNode } from 'react';
import { addSheet, genCssVar, madeFor, useTokensOf } from './library-sheet.js';

const under = (key: string, children: ReactNode) => (
  <DesignTokenContext value={{ token: {}, hashed: false, override: {} as never, cssVar: { key } }}>
    {children}
  </DesignTokenContext>
);

describe('sheets of the component library', () => {
  beforeEach(
    () =>
      (document.head.innerHTML = '<title>Page</title><link rel="stylesheet" href="data:text/css,"><style>own</style>'),
  );
  const inHead = () =>
    [...document.head.children].map((child) => (child as HTMLElement).dataset['library'] ?? child.localName);

  it('stand in their order before all of our own, whenever they come', () => {
    for (const order of [5, 2, 9, 0, 5]) addSheet(order, '.ant-btn{color:red}');
    expect(inHead()).toEqual(['0', '2', '5', '5', '9', 'title', 'link', 'style']);
    expect(document.head.firstElementChild).toHaveTextContent('.ant-btn{color:red}');
  });
  it('come into an empty head', () => {
    document.head.innerHTML = '';
    for (const order of [1, 0]) addSheet(order, '');
    expect(inHead()).toEqual(['0', '1']);
  });
});

describe('what a component of the library asks for', () => {
  it('is the class of its theme as a hook, nothing but its hash as a plain one, and nothing drawn as a part', () => {
    const [useBoth, usePlain, Part] = [
      madeFor('hook', ['ant-btn ant-btn']),
      madeFor('plain', ['ant-wave ant-wave']),
      madeFor('part', ['ant-btn ant-btn']),
    ];
    const Asks = () => (
      <p>{JSON.stringify([useBoth('ant-btn'), usePlain('ant-wave'), Part({ prefixCls: 'ant-btn' })])}</p>
    );
    render(under('ebrix-dark', <Asks />));
    expect(screen.getByText('[["","ebrix-dark"],"",null]')).toBeInTheDocument();
  });
  it('is the light theme where none is given', () => {
    const useBoth = madeFor('hook', ['ant-btn ant-btn']);
    const Asks = () => <p>{useBoth('ant-btn')![1]}</p>;
    render(<Asks />);
    expect(screen.getByText('ebrix-light')).toBeInTheDocument();
  });
  it('complains of a class that no sheet was made for', () => {
    const complaints = jest.spyOn(console, 'error').mockImplementation();
    const useModal = madeFor('hook', ['ant-modal ant-modal-css-var']);
    const Asks = ({ root }: { readonly root: string }) => <p>{useModal('ant-modal', root)![0]}</p>;
    render(<Asks root="ant-modal-css-var" />);
    expect(complaints).not.toHaveBeenCalled();
    render(<Asks root="ant-css-var" />);
    expect(complaints).toHaveBeenCalledWith(expect.stringContaining('No styles were made for ant-modal ant-css-var'));
    complaints.mockRestore();
  });
  it('reads the values of the theme it stands in', () => {
    const Reads = () => (
      <p>{(useTokensOf({ 'ebrix-light': { z: 1 }, 'ebrix-dark': { z: 2 } })[1] as { z: number }).z}</p>
    );
    render(
      <>
        {under('ebrix-dark', <Reads />)}
        <ConfigProvider>
          <Reads />
        </ConfigProvider>
      </>,
    );
    expect(screen.getByText('2')).toBeInTheDocument();
    expect(screen.getByText('1')).toBeInTheDocument();
  });
  it('names values of its own as the library does', () => {
    const [nameOf, valueOf] = genCssVar('.ant', 'slider');
    expect([nameOf!('track'), valueOf!('track'), valueOf!('track', '0')]).toEqual([
      '--ant-slider-track',
      'var(--ant-slider-track)',
      'var(--ant-slider-track, 0)',
    ]);
  });
});
