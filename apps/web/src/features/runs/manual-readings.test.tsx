import { act, screen } from '@testing-library/react';
import { setUnits } from '../../shared/preferences/index.js';
import { renderInApp } from '../../testing/render.js';
import { ManualReadings } from './ManualReadings.js';

describe('what was read by eye', () => {
  it('stands on the page of its run as it was written down, in the person’s units', () => {
    const { store } = renderInApp(
      <ManualReadings
        manualReadings={{
          odometerStartKm: 1204,
          odometerEndKm: 1213.4,
          durationS: 1500,
          highestSpeedKmh: 31,
          highestPowerW: 420,
          peakHeartRateBpm: 158,
          motorTouch: 'cannot-be-held',
          barsOut: [{ km: 6.2, left: 4 }],
          helpAfterS: [0.8, 1.1],
          cutBacks: 2,
          chargeHours: 4.5,
        }}
      />,
    );
    const shown = (label: string) => screen.getByText(label).nextElementSibling;
    expect(shown('Odometer after')).toHaveTextContent('1213.4 km');
    expect(shown('Time by the watch')).toHaveTextContent('25:00');
    expect(shown('Highest power')).toHaveTextContent('420 W');
    expect(shown('Motor by hand')).toHaveTextContent('cannot be held for ten seconds');
    expect(shown('A bar went out, 4 left')).toHaveTextContent('at 6.2 km');
    expect(shown('Help felt after')).toHaveTextContent('0.8, 1.1 s');
    expect(shown('Motor cut back')).toHaveTextContent('2 times');
    expect(shown('On the charger')).toHaveTextContent('4.5 h');
    act(() => void store.dispatch(setUnits('imperial')));
    expect(shown('Highest speed')).toHaveTextContent('19.26 mph');
  });
  it('leaves no empty heading where nothing was', () => {
    renderInApp(<ManualReadings manualReadings={{}} />);
    expect(screen.queryByText('Read by hand')).not.toBeInTheDocument();
  });
});
