import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { LiveStatus } from './connection.ts'

/** What the page knows of its line to the server. */
const liveSlice = createSlice({
  name: 'live',
  initialState: { state: 'connecting' } as LiveStatus,
  reducers: { statusChanged: (_state, { payload }: PayloadAction<LiveStatus>) => payload },
})

export const { statusChanged } = liveSlice.actions
export const liveReducer = liveSlice.reducer
