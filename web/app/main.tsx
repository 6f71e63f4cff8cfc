import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, RouterProvider } from 'react-router'
import '../ui/theme.css'
import { applyTheme } from './theme.ts'
import { routes } from './routes.tsx'
import { OpeningContext } from '../ui/address.ts'
import { RecordsProvider } from '../store/records.tsx'
import { ErrorBoundary } from './error-boundary.tsx'
import { Loading } from './loading.tsx'

applyTheme()
const root = document.getElementById('root')
if (!root) throw new Error('the page has no root')
const router = createBrowserRouter(routes)
const isOpening = () => router.state.navigation.state !== 'idle'
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={new QueryClient()}>
      <ErrorBoundary>
        <RecordsProvider fallback={<Loading />}>
          <OpeningContext value={isOpening}>
            <RouterProvider router={router} />
          </OpeningContext>
        </RecordsProvider>
      </ErrorBoundary>
    </QueryClientProvider>
  </StrictMode>,
)
