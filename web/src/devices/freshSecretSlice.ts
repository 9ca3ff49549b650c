import { createSlice, type PayloadAction } from '@reduxjs/toolkit'

/**
 * Secrets that were told just now, by address. They live in the memory of this page until the person says they are
 * saved; a reload forgets them, and nothing can bring them back.
 */
const freshSecretSlice = createSlice({
  name: 'freshSecrets',
  initialState: {} as Record<string, string>,
  reducers: {
    secretTold: (secrets, { payload }: PayloadAction<{ address: string; secret: string }>) => {
      secrets[payload.address] = payload.secret
    },
    secretSaved: (secrets, { payload: address }: PayloadAction<string>) => {
      delete secrets[address]
    },
  },
})

export const { secretTold, secretSaved } = freshSecretSlice.actions
export const freshSecretReducer = freshSecretSlice.reducer
