import { Button, Drawer, Image, Input } from 'antd';
import { useState } from 'react';
import type { PhotoOwner } from '@ebrix/contract';
import { FilePicker } from '../../shared/ui/FilePicker.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { QueryView, Problem } from '../../shared/ui/QueryView.js';
import { useAddPhotoMutation, useListPhotosQuery, useRemovePhotoMutation, useRestorePhotoMutation } from './api.js';

interface Props {
  readonly owner: PhotoOwner;
  readonly ownerId: string;
  /** Only the photos of this fitting step; absent: those of the thing as a whole. */
  readonly step?: string;
}

/** Photos of one thing: added with a caption, seen large, removed with a way back. */
export function Photos({ owner, ownerId, step = '' }: Props) {
  const query = useListPhotosQuery({ owner, ownerId });
  const [add, { isLoading, error }] = useAddPhotoMutation();
  const [remove] = useRemovePhotoMutation();
  const [restore] = useRestorePhotoMutation();
  const [caption, setCaption] = useState('');
  const notices = useNotices();
  const take = async (file: File): Promise<void> => {
    const result = await add({ owner, ownerId, step, caption, file });
    if ('data' in result && result.data) setCaption('');
  };
  const takeAway = async (id: string): Promise<void> => {
    if (notices.failure(await remove(id))) return;
    notices.undoable(id, 'Photo removed.', () => void restore(id));
  };
  return (
    <div className="grid gap-10">
      <QueryView query={query}>
        {(photos) => {
          const shown = photos.filter((photo) => photo.step === step);
          return shown.length === 0 ? null : (
            <div className="photos">
              {shown.map((photo, k) => (
                <figure key={photo.id}>
                  <Image
                    src={`/api/photos/${photo.id}/image`}
                    alt={photo.caption || `Photo ${k + 1}`}
                    width={132}
                    height={99}
                    className="object-cover"
                  />
                  <figcaption>
                    {photo.caption || <span className="quiet">no caption</span>}{' '}
                    <Button
                      size="small"
                      type="text"
                      onClick={() => void takeAway(photo.id)}
                      aria-label={`Remove ${photo.caption || `photo ${k + 1}`}`}
                    >
                      Remove
                    </Button>
                  </figcaption>
                </figure>
              ))}
            </div>
          );
        }}
      </QueryView>
      <div className="actions">
        <Input
          aria-label="Caption of the next photo"
          placeholder="What it shows"
          value={caption}
          maxLength={200}
          className="w-230"
          onChange={({ target }) => setCaption(target.value)}
        />
        <FilePicker
          label="Add a photo"
          name="Photo file"
          accept="image/jpeg,image/png,image/webp"
          isLoading={isLoading}
          onFile={(file) => void take(file)}
        />
      </div>
      {error !== undefined && <Problem error={error} />}
    </div>
  );
}

export function PhotosDrawer({
  title,
  onClose,
  ...owner
}: Props & { readonly title: string; readonly onClose: () => void }) {
  return (
    <Drawer open title={`Photos of ${title}`} onClose={onClose} size={480}>
      <p className="quiet mb-12">JPEG, PNG or WebP. Where and when it was taken is left out, and the size reduced.</p>
      <Photos {...owner} />
    </Drawer>
  );
}
