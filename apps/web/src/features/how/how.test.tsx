import { HOW_TO_RIDE, TEST_KIND_NAMES } from '@ebrix/core/analysis';
import { screen } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { renderInApp } from '../../testing/render.js';
import HowToRidePage from './HowToRidePage.js';

const open = (path: string) =>
  renderInApp(
    <Routes>
      <Route path="/how/:kind" element={<HowToRidePage />} />
    </Routes>,
    path,
  );

describe('how to ride a test', () => {
  it.each(TEST_KIND_NAMES)('says what it answers, what it needs, the steps and the cautions: %s', async (kind) => {
    open(`/how/${kind}`);
    const { answers, steps, cautions, withoutLogger } = HOW_TO_RIDE[kind];
    expect(await screen.findByText(answers)).toBeInTheDocument();
    for (const text of [...steps, ...cautions, withoutLogger]) expect(screen.getByText(text)).toBeInTheDocument();
  });
  it('leads to the usual one where there is none of that name', async () => {
    open('/how/flying');
    expect(await screen.findByText(HOW_TO_RIDE.range.answers)).toBeInTheDocument();
  });
});
