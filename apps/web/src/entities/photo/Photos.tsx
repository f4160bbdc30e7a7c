import { App as AntApp, Button, Drawer, Image, Input } from 'antd';
import { useRef, useState } from 'react';
import type { PhotoOwner } from '@ebrix/contract';
import { errorMessage } from '../../shared/api/base-api.js';
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
  const { notification } = AntApp.useApp();
  const input = useRef<HTMLInputElement>(null);
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    const result = await add({ owner, ownerId, step, caption, file });
    if ('data' in result && result.data) setCaption('');
  };
  const takeAway = async (id: string): Promise<void> => {
    const result = await remove(id);
    if (result.error !== undefined) {
      notification.error({ title: errorMessage(result.error), placement: 'bottomRight' });
      return;
    }
    notification.info({
      key: id,
      title: 'Photo removed.',
      placement: 'bottomRight',
      actions: (
        <Button
          size="small"
          onClick={() => {
            notification.destroy(id);
            void restore(id);
          }}
        >
          Undo
        </Button>
      ),
    });
  };
  return (
    <div style={{ display: 'grid', gap: 10 }}>
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
                    style={{ objectFit: 'cover' }}
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
          style={{ width: 230 }}
          onChange={({ target }) => setCaption(target.value)}
        />
        <Button loading={isLoading} onClick={() => input.current?.click()}>
          Add a photo
        </Button>
        <input
          ref={input}
          className="unseen"
          type="file"
          tabIndex={-1}
          accept="image/jpeg,image/png,image/webp"
          aria-label="Photo file"
          onChange={({ target }) => {
            void take(target.files?.[0]);
            target.value = '';
          }}
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
      <p className="quiet" style={{ marginBottom: 12 }}>
        JPEG, PNG or WebP. Where and when it was taken is left out, and the size reduced.
      </p>
      <Photos {...owner} />
    </Drawer>
  );
}
