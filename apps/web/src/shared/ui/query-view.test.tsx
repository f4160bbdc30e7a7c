import { screen } from '@testing-library/react';
import { render } from '@testing-library/react';
import { QueryView, type Query } from './QueryView.js';

const show = (query: Partial<Query<string>>, keepPrevious = false) =>
  render(
    <QueryView query={{ refetch: () => undefined, ...query }} keepPrevious={keepPrevious}>
      {(text) => <p>{text}</p>}
    </QueryView>,
  );
const away = { status: 503, data: { error: { code: 'busy', message: 'Ebrix is busy.' } } };

describe('what a page shows of a query', () => {
  it('is never of the thing before: while another one loads, it loads', () => {
    show({ data: 'the run before' });
    expect(screen.queryByText('the run before')).toBeNull();
    expect(screen.getByRole('status', { name: 'Loading' })).toBeInTheDocument();
  });
  it('is not of the thing before either when the load fails', () => {
    show({ data: 'the run before', error: away });
    expect(screen.queryByText('the run before')).toBeNull();
    expect(screen.getByRole('alert')).toHaveTextContent('Ebrix is busy.');
  });
  it('says so when it could not be brought up to date', () => {
    show({ data: 'this run', currentData: 'this run', error: away });
    expect(screen.getByText('this run')).toBeInTheDocument();
    expect(screen.getByRole('alert')).toHaveTextContent('as it was before');
    expect(screen.getByRole('button', { name: 'Try again' })).toBeInTheDocument();
  });
  it('may stay while a list is filtered anew, but not when that fails', () => {
    const { rerender } = show({ data: 'ten runs' }, true);
    expect(screen.getByText('ten runs')).toBeInTheDocument();
    rerender(
      <QueryView query={{ refetch: () => undefined, data: 'ten runs', error: away }} keepPrevious>
        {(text: string) => <p>{text}</p>}
      </QueryView>,
    );
    expect(screen.queryByText('ten runs')).toBeNull();
  });
});
