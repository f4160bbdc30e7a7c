import { render } from '@testing-library/react';
import { ConfigProvider } from 'antd';
import type { ReactElement } from 'react';
import { Provider } from 'react-redux';
import { MemoryRouter } from 'react-router';
import { makeStore, type Store } from '../app/store.js';
import NoticeHost from '../shared/ui/NoticeHost.js';
import { ShortcutProvider } from '../shared/shortcuts/index.js';

/** Renders a part of the page with all it stands in; styles are left out, since they only slow the tests down. */
export function renderInApp(element: ReactElement, path = '/'): { store: Store } {
  const store = makeStore();
  render(
    <Provider store={store}>
      <ShortcutProvider>
        <ConfigProvider theme={{ zeroRuntime: true }}>
          <MemoryRouter initialEntries={[path]}>{element}</MemoryRouter>
          <NoticeHost />
        </ConfigProvider>
      </ShortcutProvider>
    </Provider>,
  );
  return { store };
}
