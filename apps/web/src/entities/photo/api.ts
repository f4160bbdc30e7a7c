import { ROUTES, type Photo, type PhotoOwner } from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

interface Owner {
  readonly owner: PhotoOwner;
  readonly ownerId: string;
}
export const photosApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listPhotos: build.query<Photo[], Owner>({
      query: (params) => requestTo(ROUTES.listPhotos, { query: { ...params } }),
      transformResponse: answerOf(ROUTES.listPhotos),
      providesTags: ['Photo'],
    }),
    addPhoto: build.mutation<Photo, Owner & { step: string; caption: string; file: File }>({
      query: ({ file, ...fields }) => requestTo(ROUTES.addPhoto, { form: { ...fields, file } }),
      transformResponse: answerOf(ROUTES.addPhoto),
      invalidatesTags: ['Photo'],
    }),
    removePhoto: build.mutation<void, string>({
      query: (id) => requestTo(ROUTES.removePhoto, { params: { id } }),
      transformResponse: answerOf(ROUTES.removePhoto),
      invalidatesTags: ['Photo'],
    }),
    restorePhoto: build.mutation<void, string>({
      query: (id) => requestTo(ROUTES.restorePhoto, { params: { id } }),
      transformResponse: answerOf(ROUTES.restorePhoto),
      invalidatesTags: ['Photo'],
    }),
  }),
});
export const { useListPhotosQuery, useAddPhotoMutation, useRemovePhotoMutation, useRestorePhotoMutation } = photosApi;
