import { Injectable } from '@nestjs/common';
import type { Photo, PhotoInput } from '@ebrix/contract';
import { PhotoRepository } from './photo.repository.js';
import { reducePhoto } from './reduce-photo.js';

@Injectable()
export class PhotoService {
  constructor(private readonly photos: PhotoRepository) {}

  /** Sent again under its own id it is found as it is. Fails: `cannot-read` and `too-large` for what is no photo, `wrong-state` for an id of another thing. */
  async add(input: PhotoInput, bytes: Uint8Array): Promise<Photo> {
    const known = input.id === undefined ? undefined : await this.photos.find(input.id, input);
    return known ?? this.photos.insert(input, await reducePhoto(bytes));
  }
}
