import {
  rideSchema,
  rideOverviewSchema,
  type NewRide,
  type Ride,
  type RideChange,
  type RideMarkInput,
  type RideOverview,
  type RideStep,
} from '@ebrix/contract';
import type { AppDispatch, RootState } from '../../app/store.js';
import { baseApi, checked } from '../../shared/api/base-api.js';

export const ridesApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    getRidePlace: build.query<RideOverview, void>({
      query: () => 'rides',
      transformResponse: checked(rideOverviewSchema),
      providesTags: ['Ride', 'Plan'],
    }),
    getRide: build.query<Ride, string>({
      query: (id) => `rides/${id}`,
      transformResponse: checked(rideSchema),
      keepUnusedDataFor: 5,
    }),
    beginRide: build.mutation<Ride, NewRide>({
      query: (body) => ({ url: 'rides', method: 'POST', body }),
      transformResponse: checked(rideSchema),
      invalidatesTags: ['Ride', 'Plan'],
    }),
    changeRide: build.mutation<Ride, RideChange & { id: string }>({
      query: ({ id, ...body }) => ({ url: `rides/${id}`, method: 'PUT', body }),
      transformResponse: checked(rideSchema),
      onQueryStarted: keepAnswer,
    }),
    stepRide: build.mutation<Ride, RideStep & { id: string }>({
      query: ({ id, ...body }) => ({ url: `rides/${id}/step`, method: 'POST', body }),
      transformResponse: checked(rideSchema),
      onQueryStarted: keepAnswer,
      invalidatesTags: ['Ride', 'Plan', 'Run', 'Trial', 'Outing'],
    }),
    sendMarks: build.mutation<Ride, { id: string; marks: RideMarkInput[]; sentAt: string }>({
      query: ({ id, ...body }) => ({ url: `rides/${id}/marks`, method: 'POST', body }),
      transformResponse: checked(rideSchema),
      onQueryStarted: keepAnswer,
    }),
    undoMark: build.mutation<Ride, { id: string; markId: string; undone: boolean }>({
      query: ({ id, markId, undone }) => ({
        url: `rides/${id}/marks/${markId}/undo`,
        method: 'POST',
        body: { undone },
      }),
      transformResponse: checked(rideSchema),
      onQueryStarted: keepAnswer,
    }),
    simulateRide: build.mutation<Ride, { id: string; pace: number }>({
      query: ({ id, pace }) => ({ url: `rides/${id}/simulate`, method: 'POST', body: { pace } }),
      transformResponse: checked(rideSchema),
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
  return async (dispatch: AppDispatch, getState: () => RootState): Promise<void> => {
    const { data: shown } = ridesApi.endpoints.getRide.select(ride.id)(getState());
    if (!shown || !isFurther(shown, ride)) await dispatch(ridesApi.util.upsertQueryData('getRide', ride.id, ride));
  };
}

/** The ride as the server answered is the one that is shown: its version counts for the next change. */
async function keepAnswer(
  _: { id: string },
  { dispatch, queryFulfilled }: { dispatch: AppDispatch; queryFulfilled: Promise<{ data: Ride }> },
): Promise<void> {
  try {
    const { data } = await queryFulfilled;
    await dispatch(takeRide(data));
  } catch {
    // The hook that asked shows why.
  }
}
export const {
  useGetRidePlaceQuery,
  useGetRideQuery,
  useBeginRideMutation,
  useChangeRideMutation,
  useStepRideMutation,
  useSendMarksMutation,
  useUndoMarkMutation,
  useSimulateRideMutation,
} = ridesApi;
