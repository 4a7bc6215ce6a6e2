/** State of the page: what the server answered, progress of attempts, and whether the sign-in has run out. */
import {
  configureStore,
  createSlice,
  isRejectedWithValue,
  type Middleware,
  type PayloadAction,
} from '@reduxjs/toolkit';
import { setupListeners } from '@reduxjs/toolkit/query';
import { useDispatch, useSelector } from 'react-redux';

import type { AttemptEvent } from '#api';
import { api, isSignedOut } from '#web/server';

const noProgress: Record<number, AttemptEvent> = {};

const progress = createSlice({
  name: 'progress',
  initialState: noProgress,
  reducers: {
    attemptMoved: (state, { payload }: PayloadAction<AttemptEvent>) => {
      state[payload.attemptId] = payload;
    },
  },
});
export const { attemptMoved } = progress.actions;

const session = createSlice({
  name: 'signIn',
  initialState: { expired: false },
  reducers: {
    signInExpired: (state) => {
      state.expired = true;
    },
    signInRenewed: (state) => {
      state.expired = false;
    },
  },
});
export const { signInExpired, signInRenewed } = session.actions;

/** Any answer "not signed in", except to the sign-in form itself, opens the sign-in over the page. */
const watchSignIn: Middleware = (store) => (next) => (action) => {
  if (isRejectedWithValue(action) && isSignedOut(action.payload)) {
    const { arg } = action.meta as { arg?: { endpointName?: string } };
    if (arg?.endpointName !== 'signIn') store.dispatch(signInExpired());
  }
  return next(action);
};

export const store = configureStore({
  reducer: { [api.reducerPath]: api.reducer, progress: progress.reducer, signIn: session.reducer },
  middleware: (defaults) => defaults().concat(api.middleware, watchSignIn),
});
setupListeners(store.dispatch);

export type AppState = ReturnType<typeof store.getState>;
export const useAppSelector = useSelector.withTypes<AppState>();
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();
