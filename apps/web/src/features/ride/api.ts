import {
  ROUTES,
  type AlongFileOutcome,
  type NewRide,
  type Ride,
  type RideChange,
  type RideMarkInput,
  type RideOverview,
  type RideStep,
} from '@ebrix/contract';
import type { ApiDispatch, ApiState } from '../../shared/api/base-api.js';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const ridesApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    getRideOverview: build.query<RideOverview, void>({
      query: () => requestTo(ROUTES.getRideOverview),
      transformResponse: answerOf(ROUTES.getRideOverview),
      providesTags: ['Ride', 'Plan'],
    }),
    getRide: build.query<Ride, string>({
      query: (id) => requestTo(ROUTES.getRide, { params: { id } }),
      transformResponse: answerOf(ROUTES.getRide),
      keepUnusedDataFor: 5,
    }),
    bringOutingFile: build.mutation<AlongFileOutcome[], File>({
      query: (file) => requestTo(ROUTES.bringOutingFile, { form: { file } }),
      transformResponse: answerOf(ROUTES.bringOutingFile),
      invalidatesTags: ['Ride', 'Plan', 'Run', 'Trial', 'Outing'],
    }),
    beginRide: build.mutation<Ride, NewRide>({
      query: (body) => requestTo(ROUTES.beginRide, { body }),
      transformResponse: answerOf(ROUTES.beginRide),
      invalidatesTags: ['Ride', 'Plan'],
    }),
    changeRide: build.mutation<Ride, RideChange & { id: string }>({
      query: ({ id, ...body }) => requestTo(ROUTES.changeRide, { params: { id }, body }),
      transformResponse: answerOf(ROUTES.changeRide),
      onQueryStarted: keepAnswer,
    }),
    stepRide: build.mutation<Ride, RideStep & { id: string }>({
      query: ({ id, ...body }) => requestTo(ROUTES.stepRide, { params: { id }, body }),
      transformResponse: answerOf(ROUTES.stepRide),
      onQueryStarted: keepAnswer,
      invalidatesTags: ['Ride', 'Plan', 'Run', 'Trial', 'Outing'],
    }),
    sendMarks: build.mutation<Ride, { id: string; marks: RideMarkInput[]; sentAt: string }>({
      query: ({ id, ...body }) => requestTo(ROUTES.sendMarks, { params: { id }, body }),
      transformResponse: answerOf(ROUTES.sendMarks),
      onQueryStarted: keepAnswer,
    }),
    undoMark: build.mutation<Ride, { id: string; markId: string; undone: boolean }>({
      query: ({ id, markId, undone }) => requestTo(ROUTES.undoMark, { params: { id, markId }, body: { undone } }),
      transformResponse: answerOf(ROUTES.undoMark),
      onQueryStarted: keepAnswer,
    }),
    simulateRide: build.mutation<Ride, { id: string; pace: number }>({
      query: ({ id, pace }) => requestTo(ROUTES.simulateRide, { params: { id }, body: { pace } }),
      transformResponse: answerOf(ROUTES.simulateRide),
      invalidatesTags: ['Part'],
    }),
  }),
});
/** An answer may be overtaken by the stream of what happens: the ride that is further on stays. */
function isFurther(shown: Ride, come: Ride): boolean {
  return (
    shown.version > come.version || (shown.version === come.version && shown.runId !== null && come.runId === null)
  );
}

/** A ride as the server told it, unless a later word of it is here already. */
export function takeRide(ride: Ride) {
  return async (dispatch: ApiDispatch, getState: () => ApiState): Promise<void> => {
    const { data: shown } = ridesApi.endpoints.getRide.select(ride.id)(getState());
    if (!shown || !isFurther(shown, ride)) await dispatch(ridesApi.util.upsertQueryData('getRide', ride.id, ride));
  };
}

/** The ride as the server answered is the one that is shown: its version counts for the next change. */
async function keepAnswer(
  _: { id: string },
  { dispatch, queryFulfilled }: { dispatch: ApiDispatch; queryFulfilled: Promise<{ data: Ride }> },
): Promise<void> {
  try {
    const { data } = await queryFulfilled;
    await dispatch(takeRide(data));
  } catch {
    // The hook that asked shows why.
  }
}
export const {
  useGetRideOverviewQuery,
  useGetRideQuery,
  useBeginRideMutation,
  useBringOutingFileMutation,
  useChangeRideMutation,
  useStepRideMutation,
  useSendMarksMutation,
  useUndoMarkMutation,
  useSimulateRideMutation,
} = ridesApi;
