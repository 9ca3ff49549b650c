import { configureStore } from '@reduxjs/toolkit'
import { useDispatch, useSelector } from 'react-redux'
import { api, rememberCsrfToken } from './api/api.ts'
import { freshSecretReducer } from './devices/freshSecretSlice.ts'
import { live } from './live/connection.ts'
import { liveReducer, statusChanged } from './live/liveSlice.ts'
import { peopleApi } from './people/peopleApi.ts'

export const store = configureStore({
  reducer: { [api.reducerPath]: api.reducer, live: liveReducer, freshSecrets: freshSecretReducer },
  middleware: (getDefault) => getDefault().concat(api.middleware),
})

export type State = ReturnType<typeof store.getState>
export const useAppSelector = useSelector.withTypes<State>()
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>()

let wasLive = false
let wasLost = false
live.onStatus((status) => {
  store.dispatch(statusChanged(status))
  // What came in while the line was down is in the store: ask again, so that no gap stays on the screen.
  if (status.state === 'live' && wasLost)
    store.dispatch(api.util.invalidateTags(['Session', 'Devices', 'Sites', 'Traces', 'SiteDay', 'Arrivals']))
  // What was asked for first may have changed before the line was there to tell of it.
  if (status.state === 'live' && !wasLive) store.dispatch(api.util.invalidateTags(['Devices', 'Sites']))
  if (status.state === 'ended') store.dispatch(api.util.invalidateTags(['Session']))
  wasLive = status.state === 'live' || (wasLive && status.state === 'lost')
  wasLost = status.state === 'lost' || (wasLost && status.state !== 'live')
})

store.subscribe(() => {
  const session = peopleApi.endpoints.session.select()(store.getState()).data
  if (session?.state === 'signed-in') rememberCsrfToken(session.csrfToken)
})
