import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { Provider } from 'react-redux'
import { App } from './App.tsx'
import './design/tokens.css'
import { sharedToken } from './api/sharedToken.ts'
import { peopleApi } from './people/peopleApi.ts'
import { store } from './store.ts'

// Asked while the page is still being fetched. Who looks by a link is nobody in particular.
if (sharedToken === undefined) void store.dispatch(peopleApi.endpoints.session.initiate())

const root = document.getElementById('root')
if (!root) throw new Error('the page has no place for the application')
createRoot(root).render(
  <StrictMode>
    <Provider store={store}>
      <App />
    </Provider>
  </StrictMode>,
)

/** The first values do not wait for what makes the next visit quick, ms. */
const keptLater = 3000

// Browsers allow it on HTTPS and on this machine only.
if ('serviceWorker' in navigator && sharedToken === undefined && import.meta.env.PROD)
  window.addEventListener('load', () => {
    setTimeout(() => void navigator.serviceWorker.register('/sw.js'), keptLater)
  })
