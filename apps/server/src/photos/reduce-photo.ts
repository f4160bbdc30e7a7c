import pLimit from 'p-limit';
import { DomainError } from '../common/domain-error.js';

/** Longest side kept: enough to read a marking on a caliper. */
const LONGEST_SIDE_PX = 1600;
/** Beyond this an image is not unpacked at all: a few kilobytes can unfold into gigabytes. */
export const MAX_PIXELS = 60_000_000;
/** Each unfolds to a few hundred megabytes for a moment. */
const oneAfterTheOther = pLimit(2);
const FORMATS: ReadonlySet<string> = new Set(['jpeg', 'png', 'webp']);

export interface ReducedPhoto {
  readonly bytes: Buffer;
  readonly width: number;
  readonly height: number;
}

/**
 * A photo made small and harmless: turned upright, at most 1600 px a side, written anew as JPEG without any of the data that
 * cameras put in (place, time, device).
 * Fails: `cannot-read` for what is no JPEG, PNG or WebP or is damaged; `too-large` for more than 60 million pixels.
 */
export function reducePhoto(bytes: Uint8Array): Promise<ReducedPhoto> {
  return oneAfterTheOther(() => reduce(bytes));
}

/** Large, and most days nobody brings a photo: loaded when the first one comes. */
const loadSharp = async (): Promise<typeof import('sharp').default> => (await import('sharp')).default;

async function reduce(bytes: Uint8Array): Promise<ReducedPhoto> {
  const { format, width, height, pages } = await inspect(bytes);
  if (!FORMATS.has(format))
    throw new DomainError('cannot-read', 'This is no JPEG, PNG or WebP picture. Nothing was stored.');
  const pixels = width * height * Math.max(1, pages);
  if (pixels > MAX_PIXELS)
    throw new DomainError(
      'too-large',
      `The picture unfolds to ${Math.round(pixels / 1e6)} million pixels; at most ${MAX_PIXELS / 1e6} million are taken. Save it smaller. Nothing was stored.`,
    );
  const sharp = await loadSharp();
  try {
    const { data, info } = await sharp(bytes, { limitInputPixels: MAX_PIXELS, failOn: 'error', pages: 1 })
      .autoOrient()
      .resize({ width: LONGEST_SIDE_PX, height: LONGEST_SIDE_PX, fit: 'inside', withoutEnlargement: true })
      .flatten({ background: '#ffffff' })
      .jpeg({ quality: 82, mozjpeg: true })
      .toBuffer({ resolveWithObject: true });
    return { bytes: data, width: info.width, height: info.height };
  } catch {
    throw damaged();
  }
}

async function inspect(bytes: Uint8Array): Promise<{ format: string; width: number; height: number; pages: number }> {
  const sharp = await loadSharp();
  try {
    const { format, width, height, pages } = await sharp(bytes, { limitInputPixels: false }).metadata();
    return { format, width, height, pages: pages ?? 1 };
  } catch {
    throw damaged();
  }
}
function damaged(): DomainError {
  return new DomainError(
    'cannot-read',
    'The picture cannot be read: it is damaged, or no JPEG, PNG or WebP. Nothing was stored.',
  );
}
