import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { Photo } from '@ebrix/contract';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import { Photos } from './Photos.js';

const ownerId = '01900000-0000-7000-8000-000000000001';
const photo = (n: number, more: Partial<Photo> = {}): Photo => ({
  id: `01900000-0000-7000-8000-00000000010${n}`,
  owner: 'kit',
  ownerId,
  step: '',
  caption: `Picture ${n}`,
  width: 800,
  height: 600,
  byteCount: 90_000,
  createdAt: '2026-04-07T08:00:00.000Z',
  ...more,
});
const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });

describe('photos', () => {
  it('shows those of the thing itself, or those of one fitting step', async () => {
    fakeApi({ photos: [photo(1), photo(2, { step: 'wheel-in' })] });
    renderInApp(<Photos owner="kit" ownerId={ownerId} step="wheel-in" />);
    expect(await screen.findByRole('img', { name: 'Picture 2' })).toHaveAttribute(
      'src',
      `/api/photos/${photo(2).id}/image`,
    );
    expect(screen.queryByRole('img', { name: 'Picture 1' })).not.toBeInTheDocument();
  });

  it('adds one with its caption and clears the caption', async () => {
    const api = fakeApi({ photos: [], 'POST photos': photo(3) });
    renderInApp(<Photos owner="kit" ownerId={ownerId} />);
    const hands = user();
    const caption = await screen.findByLabelText('Caption of the next photo');
    await hands.type(caption, 'Washers on the left');
    await hands.upload(screen.getByLabelText('Photo file'), new File(['x'], 'a.jpg', { type: 'image/jpeg' }));
    await waitFor(() => expect(caption).toHaveValue(''));
    expect(api.requests.some(({ method, path }) => method === 'POST' && path === 'photos')).toBe(true);
  });

  it('says why one is refused and keeps the caption', async () => {
    fakeApi({
      photos: [],
      'POST photos': () => refusal(413, 'too-large', 'The picture unfolds to 3600 million pixels.'),
    });
    renderInApp(<Photos owner="kit" ownerId={ownerId} />);
    const hands = user();
    await hands.type(await screen.findByLabelText('Caption of the next photo'), 'Huge');
    await hands.upload(screen.getByLabelText('Photo file'), new File(['x'], 'a.png', { type: 'image/png' }));
    expect(await screen.findByText(/3600 million pixels/)).toBeInTheDocument();
    expect(screen.getByLabelText('Caption of the next photo')).toHaveValue('Huge');
  });

  it('removes one and brings it back by undo', async () => {
    const api = fakeApi({
      photos: [photo(1)],
      [`DELETE photos/${photo(1).id}`]: () => new Response(null, { status: 204 }),
      [`POST photos/${photo(1).id}/restore`]: () => new Response(null, { status: 204 }),
    });
    renderInApp(<Photos owner="kit" ownerId={ownerId} />);
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: 'Remove Picture 1' }));
    await hands.click(await screen.findByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(api.requests.some(({ path }) => path.endsWith('/restore'))).toBe(true));
  });
});
