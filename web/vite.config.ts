import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

const server = process.env.SPARROW_URL ?? 'http://127.0.0.1:7600'

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { chunkSizeWarningLimit: 700 },
  server: {
    proxy: {
      '/api': server,
      '/in': server,
      '/problems': server,
      '/live': { target: server, ws: true },
    },
  },
})
