import { photoSchema, type Photo, type PhotoOwner } from '@ebrix/contract';
import { baseApi, checked } from '../../shared/api/base-api.js';

interface Owner {
  readonly owner: PhotoOwner;
  readonly ownerId: string;
}
export const photosApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listPhotos: build.query<Photo[], Owner>({
      query: (params) => ({ url: 'photos', params: { ...params } }),
      transformResponse: checked(photoSchema.array()),
      providesTags: ['Photo'],
    }),
    addPhoto: build.mutation<Photo, Owner & { step: string; caption: string; file: File }>({
      query: ({ file, ...fields }) => {
        const body = new FormData();
        for (const [name, value] of Object.entries(fields)) body.append(name, value);
        body.append('file', file);
        return { url: 'photos', method: 'POST', body };
      },
      invalidatesTags: ['Photo'],
    }),
    removePhoto: build.mutation<void, string>({
      query: (id) => ({ url: `photos/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Photo'],
    }),
    restorePhoto: build.mutation<void, string>({
      query: (id) => ({ url: `photos/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Photo'],
    }),
  }),
});
export const { useListPhotosQuery, useAddPhotoMutation, useRemovePhotoMutation, useRestorePhotoMutation } = photosApi;
