import { fileURLToPath } from 'node:url'
import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig, type IndexHtmlTransformContext, type Plugin } from 'vite'
import { compression } from 'vite-plugin-compression2'

const server = process.env.SPARROW_URL ?? 'http://127.0.0.1:7600'

/** Where one lands is fetched along with what every page needs, and not only when that asks for it. */
const landing: Plugin = {
  name: 'fetch-landing-page',
  transformIndexHtml: {
    order: 'post',
    handler: (_, { bundle = {} }) =>
      Object.values(bundle).flatMap((chunk) =>
        chunk.type === 'chunk' && chunk.facadeModuleId?.endsWith('/pages/overview/Overview.tsx')
          ? [...neededBy(chunk.fileName, bundle)].map((file) => ({
              tag: 'link',
              attrs: { rel: 'modulepreload', crossorigin: true, href: `/${file}` },
              injectTo: 'head' as const,
            }))
          : [],
      ),
  },
}

type Bundle = NonNullable<IndexHtmlTransformContext['bundle']>

/** A file with all that it imports, and that those import: else each step is found out when the one before has come. */
function neededBy(file: string, bundle: Bundle, found = new Set<string>()): Set<string> {
  const chunk = bundle[file]
  if (found.has(file) || chunk?.type !== 'chunk') return found
  found.add(file)
  for (const each of chunk.imports) neededBy(each, bundle, found)
  return found
}

export default defineConfig({
  plugins: [react(), tailwindcss(), landing, compression({ algorithms: ['gzip', 'brotliCompress'] })],
  resolve: {
    alias: { '@sinclair/typebox': fileURLToPath(new URL('./src/api/shapeless.ts', import.meta.url)) },
  },
  build: { chunkSizeWarningLimit: 700 },
  server: {
    proxy: {
      '/api': server,
      '/in': server,
      '/problems': server,
      '/authority.crt': server,
      '/live': { target: server, ws: true },
    },
  },
})
