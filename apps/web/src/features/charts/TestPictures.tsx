import { lazy, Suspense } from 'react';
import type { PictureDto } from '@ebrix/contract';

const TestPicture = lazy(() => import('./TestPicture.js'));

/** What there is to see of a test, side by side where there is room. */
export function TestPictures({ pictures }: { readonly pictures: readonly PictureDto[] }) {
  if (pictures.length === 0) return null;
  return (
    <div className={`pictures${pictures.length === 1 ? ' alone' : ''}`}>
      <Suspense fallback={<div role="status" aria-label="Loading" style={{ minHeight: 270 }} />}>
        {pictures.map((picture) => (
          <TestPicture key={picture.key} picture={picture} />
        ))}
      </Suspense>
    </div>
  );
}
