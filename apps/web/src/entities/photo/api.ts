import type { Photo, PhotoOwner } from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

interface Owner {
  readonly owner: PhotoOwner;
  readonly ownerId: string;
}
export const photosApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listPhotos: build.query<Photo[], Owner>({
      query: (params) => requestTo('listPhotos', { query: { ...params } }),
      transformResponse: answerOf('listPhotos'),
      providesTags: ['Photo'],
    }),
    addPhoto: build.mutation<Photo, Owner & { step: string; caption: string; file: File }>({
      query: ({ file, ...fields }) => requestTo('addPhoto', { form: { ...fields, file } }),
      transformResponse: answerOf('addPhoto'),
      invalidatesTags: ['Photo'],
    }),
    removePhoto: build.mutation<void, string>({
      query: (id) => requestTo('removePhoto', { params: { id } }),
      transformResponse: answerOf('removePhoto'),
      invalidatesTags: ['Photo'],
    }),
    restorePhoto: build.mutation<void, string>({
      query: (id) => requestTo('restorePhoto', { params: { id } }),
      transformResponse: answerOf('restorePhoto'),
      invalidatesTags: ['Photo'],
    }),
  }),
});
export const { useListPhotosQuery, useAddPhotoMutation, useRemovePhotoMutation, useRestorePhotoMutation } = photosApi;
