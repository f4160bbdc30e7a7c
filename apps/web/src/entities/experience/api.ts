import type { RatingDto, RatingInput } from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const experienceApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    ratingsOfSetup: build.query<RatingDto[], string>({
      query: (setupId) => requestTo('ratingsOfSetup', { params: { id: setupId } }),
      transformResponse: answerOf('ratingsOfSetup'),
      providesTags: ['Rating'],
    }),
    ratingsOfTrial: build.query<RatingDto[], string>({
      query: (trialId) => requestTo('ratingsOfTrial', { params: { id: trialId } }),
      transformResponse: answerOf('ratingsOfTrial'),
      providesTags: ['Rating'],
    }),
    addRating: build.mutation<RatingDto[], { setupId: string; input: RatingInput }>({
      query: ({ setupId, input }) => requestTo('addRating', { params: { id: setupId }, body: input }),
      transformResponse: answerOf('addRating'),
      invalidatesTags: ['Rating'],
    }),
    removeRating: build.mutation<void, string>({
      query: (id) => requestTo('removeRating', { params: { id } }),
      transformResponse: answerOf('removeRating'),
      invalidatesTags: ['Rating'],
    }),
  }),
});
export const { useRatingsOfSetupQuery, useRatingsOfTrialQuery, useAddRatingMutation, useRemoveRatingMutation } =
  experienceApi;
