import type {
  AlongFileOutcome,
  NewRide,
  Ride,
  RideChange,
  RideMarkInput,
  RideOverview,
  RideStep,
} from '@ebrix/contract';
import type { ApiDispatch, ApiState } from '../../shared/api/base-api.js';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const ridesApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    getRideOverview: build.query<RideOverview, void>({
      query: () => requestTo('getRideOverview'),
      transformResponse: answerOf('getRideOverview'),
      providesTags: ['Ride', 'Plan'],
    }),
    getRide: build.query<Ride, string>({
      query: (id) => requestTo('getRide', { params: { id } }),
      transformResponse: answerOf('getRide'),
      keepUnusedDataFor: 5,
    }),
    bringOutingFile: build.mutation<AlongFileOutcome[], File>({
      query: (file) => requestTo('bringOutingFile', { form: { file } }),
      transformResponse: answerOf('bringOutingFile'),
      invalidatesTags: ['Ride', 'Plan', 'Run', 'Trial', 'Outing'],
    }),
    beginRide: build.mutation<Ride, NewRide>({
      query: (body) => requestTo('beginRide', { body }),
      transformResponse: answerOf('beginRide'),
      invalidatesTags: ['Ride', 'Plan'],
    }),
    changeRide: build.mutation<Ride, RideChange & { id: string }>({
      query: ({ id, ...body }) => requestTo('changeRide', { params: { id }, body }),
      transformResponse: answerOf('changeRide'),
      onQueryStarted: keepAnswer,
    }),
    stepRide: build.mutation<Ride, RideStep & { id: string }>({
      query: ({ id, ...body }) => requestTo('stepRide', { params: { id }, body }),
      transformResponse: answerOf('stepRide'),
      onQueryStarted: keepAnswer,
      invalidatesTags: ['Ride', 'Plan', 'Run', 'Trial', 'Outing'],
    }),
    sendMarks: build.mutation<Ride, { id: string; marks: RideMarkInput[]; sentAt: string }>({
      query: ({ id, ...body }) => requestTo('sendMarks', { params: { id }, body }),
      transformResponse: answerOf('sendMarks'),
      onQueryStarted: keepAnswer,
    }),
    undoMark: build.mutation<Ride, { id: string; markId: string; undone: boolean }>({
      query: ({ id, markId, undone }) => requestTo('undoMark', { params: { id, markId }, body: { undone } }),
      transformResponse: answerOf('undoMark'),
      onQueryStarted: keepAnswer,
    }),
    simulateRide: build.mutation<Ride, { id: string; pace: number }>({
      query: ({ id, pace }) => requestTo('simulateRide', { params: { id }, body: { pace } }),
      transformResponse: answerOf('simulateRide'),
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
