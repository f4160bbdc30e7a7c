import { screen } from '@testing-library/react';
import { exampleSetups, exampleTrial } from '../../testing/examples.js';
import { fakeApi } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import { OpenClearance } from './OpenClearance.js';
import { SetupsStep } from './SetupsStep.js';

const shut = {
  ...exampleTrial,
  setups: exampleTrial.setups.map((setup, k) => ({ ...setup, openClearance: k === 1 ? 3 : 0 })),
};

describe('setups of a trial that must not be ridden', () => {
  it('are named with the way to their safety checks', () => {
    renderInApp(<OpenClearance trial={shut} />);
    expect(screen.getByText(/Do not ride yet/)).toHaveTextContent('B, Dromel D5, with 3 safety checks to do');
    expect(screen.getByRole('link', { name: '3 safety checks to do' })).toHaveAttribute(
      'href',
      `/bench/setups/${exampleSetups[1]!.id}/clearance`,
    );
  });
  it('say nothing when all may be ridden', () => {
    renderInApp(<OpenClearance trial={exampleTrial} />);
    expect(screen.queryByText(/Not to be ridden/)).not.toBeInTheDocument();
  });
  it('stand with their safety checks in the list of setups', async () => {
    fakeApi({ setups: exampleSetups });
    renderInApp(<SetupsStep trial={shut} />);
    expect(await screen.findByRole('row', { name: /Corvane R2/ })).toHaveTextContent('may be ridden');
    expect(screen.getByRole('row', { name: /Dromel D5/ })).toHaveTextContent('3 to do');
  });
});
