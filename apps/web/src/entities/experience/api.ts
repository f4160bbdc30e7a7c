import { ROUTES, type RatingDto, type RatingInput } from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const experienceApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    ratingsOfSetup: build.query<RatingDto[], string>({
      query: (setupId) => requestTo(ROUTES.ratingsOfSetup, { params: { id: setupId } }),
      transformResponse: answerOf(ROUTES.ratingsOfSetup),
      providesTags: ['Rating'],
    }),
    ratingsOfTrial: build.query<RatingDto[], string>({
      query: (trialId) => requestTo(ROUTES.ratingsOfTrial, { params: { id: trialId } }),
      transformResponse: answerOf(ROUTES.ratingsOfTrial),
      providesTags: ['Rating'],
    }),
    addRating: build.mutation<RatingDto[], { setupId: string; input: RatingInput }>({
      query: ({ setupId, input }) => requestTo(ROUTES.addRating, { params: { id: setupId }, body: input }),
      transformResponse: answerOf(ROUTES.addRating),
      invalidatesTags: ['Rating'],
    }),
    removeRating: build.mutation<void, string>({
      query: (id) => requestTo(ROUTES.removeRating, { params: { id } }),
      transformResponse: answerOf(ROUTES.removeRating),
      invalidatesTags: ['Rating'],
    }),
  }),
});
export const { useRatingsOfSetupQuery, useRatingsOfTrialQuery, useAddRatingMutation, useRemoveRatingMutation } =
  experienceApi;
