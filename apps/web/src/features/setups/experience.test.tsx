import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { RatingDto } from '@ebrix/contract';
import { exampleDetail } from '../../testing/examples.js';
import { fakeApi } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import { HowItFelt } from '../../entities/experience/index.js';
import ExperienceTab from './ExperienceTab.js';

const setup = exampleDetail();
const revisionId = setup.revisions[0]!.id;
const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
let count = 0;
const said = (rider: string, values: RatingDto['values'], change: Partial<RatingDto> = {}): RatingDto => ({
  id: `01900000-0000-7000-8000-0000000005${String(++count).padStart(2, '0')}`,
  revisionId,
  rider,
  day: '2026-04-23',
  phase: 'after',
  isBlind: false,
  values,
  note: '',
  setupName: setup.name,
  revisionNumber: 1,
  at: '2026-04-23T08:00:00.000Z',
  ...change,
});

describe('how a setup felt', () => {
  it('is rated on steps with words, and sent only with a name and a step', async () => {
    const path = `setups/${setup.id}/ratings`;
    const api = fakeApi({ [path]: [], 'bench/riders': [], [`POST ${path}`]: [] });
    renderInApp(<ExperienceTab setup={setup} />);
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: 'Rate it' }));
    await hands.click(screen.getByRole('button', { name: 'Keep it' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('Write your name.');
    await hands.type(screen.getByLabelText('Rider'), 'Ottoline Vask');
    await hands.click(screen.getByRole('button', { name: 'Keep it' }));
    expect(screen.getByRole('alert')).toHaveTextContent('Rate at least one of them.');
    const noise = screen.getByRole('group', { name: 'Noise' });
    await hands.click(within(noise).getByRole('radio', { name: /not heard above tyres/ }));
    await hands.click(screen.getByRole('checkbox', { name: /did not know which setup/ }));
    await hands.click(screen.getByRole('button', { name: 'Keep it' }));
    await waitFor(() =>
      expect(api.requests.find(({ method }) => method === 'POST')?.body).toMatchObject({
        revisionId,
        rider: 'Ottoline Vask',
        phase: 'after',
        isBlind: true,
        values: { noise: 5 },
      }),
    );
  });

  it('is shown as median and agreement, with what was expected, and words as they were written', async () => {
    fakeApi({
      [`setups/${setup.id}/ratings`]: [
        said('Bram Tellow', { noise: 2, braking: 4 }, { note: '<i>whirrs</i>' }),
        said('Ottoline Vask', { noise: 4 }, { isBlind: true }),
        said('Bram Tellow', { noise: 3 }, { phase: 'before' }),
      ],
    });
    renderInApp(<ExperienceTab setup={setup} />);
    const table = within(await screen.findByRole('region', { name: 'How it felt' }));
    const row = table.getByRole('row', { name: /^Noise/ });
    expect(row).toHaveTextContent('3 heard by the rider all the way');
    expect(row).toHaveTextContent('2 riders: riders are divided, 2 to 4, 1 without knowing which');
    expect(within(row).getAllByRole('cell').at(-1)).toHaveTextContent('3');
    expect(table.getByRole('row', { name: /^Braking/ })).toHaveTextContent('one rider');
    expect(screen.getByText('<i>whirrs</i>')).toBeInTheDocument();
  });

  it('stands beside the figures of a trial, by setup, and not at all while nobody has said', () => {
    const sides = [{ letter: 'A' as const, name: 'Corvane R2', revisionId }];
    renderInApp(<HowItFelt sides={sides} ratings={[]} />);
    expect(screen.queryByText(/How they felt/)).not.toBeInTheDocument();
    cleanup();
    renderInApp(<HowItFelt sides={sides} ratings={[said('Bram Tellow', { comfort: 4 })]} />);
    expect(screen.getByText('How they felt, by one rider')).toBeInTheDocument();
    expect(screen.getByRole('row', { name: /Comfort over a day/, hidden: true })).toHaveTextContent('4');
  });
});
