/** A photo taken on the way; it goes to the setup it was ridden with. */
export interface CarriedPhoto {
  readonly id: string;
  readonly rideId: string;
  readonly setupId: string;
  readonly caption: string;
  readonly bytes: ArrayBuffer;
  readonly type: string;
  /** Why the server did not take it. */
  readonly problem: string | null;
}

const LONGEST_PX = 1600;
const QUALITY = 0.85;
/** What cannot be made smaller here goes as it is, up to this. */
const LARGEST_BYTES = 12 * 1024 * 1024;

/** Made small enough to carry many of them. Fails with a sentence for whoever took it. */
export async function carriedPhoto(
  file: Blob,
  of: Pick<CarriedPhoto, 'caption' | 'id' | 'rideId' | 'setupId'>,
): Promise<CarriedPhoto> {
  const small = await reduced(file).catch(() => undefined);
  const blob = small && small.size < file.size ? small : file;
  if (!blob.type.startsWith('image/')) throw new Error('This is no picture. Choose a photo.');
  if (blob.size > LARGEST_BYTES) throw new Error('This picture is too large to carry. Take it with less resolution.');
  return { ...of, bytes: await bytesOf(blob), type: blob.type, problem: null };
}

async function reduced(file: Blob): Promise<Blob | undefined> {
  const bitmap = await createImageBitmap(file, { imageOrientation: 'from-image' });
  const scale = Math.min(1, LONGEST_PX / Math.max(bitmap.width, bitmap.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.round(bitmap.width * scale);
  canvas.height = Math.round(bitmap.height * scale);
  canvas.getContext('2d')!.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
  bitmap.close();
  return new Promise((resolve) => canvas.toBlob((blob) => resolve(blob ?? undefined), 'image/jpeg', QUALITY));
}

/** By the old way too: not every browser of a phone has the new one. */
function bytesOf(blob: Blob): Promise<ArrayBuffer> {
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result as ArrayBuffer);
    reader.onerror = () => reject(reader.error ?? new Error('The picture cannot be read.'));
    reader.readAsArrayBuffer(blob);
  });
}
