import '@fontsource-variable/instrument-sans/index.css'
import './ui/tokens.css'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { lazy, StrictMode, Suspense } from 'react'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router'
import { Toaster } from 'sonner'
import { ApiError } from './api.ts'
import { Shelf } from './shelf/Shelf.tsx'
import { Broken } from './ui/Broken.tsx'
import { watchBuild } from './ui/build.ts'
import { Nowhere } from './ui/Nowhere.tsx'

const Draft = lazy(() => import('./draft/Draft.tsx'))
const Handoff = lazy(() => import('./handoff/Handoff.tsx'))
const CarriesPage = lazy(() => import('./carries/CarriesPage.tsx'))
const Fill = lazy(() => import('./fill/Fill.tsx'))
const AllOutputs = lazy(() => import('./outputs/AllOutputs.tsx'))
const ProductionPage = lazy(() => import('./productions/ProductionPage.tsx'))
const ProgrammePage = lazy(() => import('./programme/Programme.tsx'))
const AirPage = lazy(() => import('./air/AirPage.tsx'))
const Mixer = lazy(() => import('./air/Mixer.tsx'))
const NewOutput = lazy(() => import('./outputs/NewOutput.tsx'))
const Outputs = lazy(() => import('./outputs/Outputs.tsx'))

const router = createBrowserRouter([
  {
    errorElement: <Broken />,
    children: [
      { path: '/', element: <Shelf /> },
      { path: '/outputs', element: <AllOutputs /> },
      { path: '/p/:id', element: <ProductionPage /> },
      { path: '/programmes/:id', element: <ProgrammePage /> },
      { path: '/air/:channel?', element: <AirPage /> },
      { path: '/mixer/:channel?', element: <Mixer /> },
      { path: '/t/:id', element: <Navigate to="draft" replace /> },
      { path: '/t/:id/draft', element: <Draft /> },
      { path: '/t/:id/handoff', element: <Handoff /> },
      { path: '/t/:id/carries', element: <CarriesPage /> },
      { path: '/t/:id/fill/:sheet?', element: <Fill /> },
      { path: '/t/:id/outputs/new', element: <NewOutput /> },
      { path: '/t/:id/outputs/:output?', element: <Outputs /> },
      { path: '*', element: <Nowhere /> },
    ],
  },
])
/** What is gone or refused stays so when it is asked for again. */
const isRefused = (error: Error) => error instanceof ApiError && error.status >= 400 && error.status < 500
const queries = new QueryClient({
  defaultOptions: {
    queries: { retry: (failures, error) => failures < 1 && !isRefused(error), refetchOnWindowFocus: false },
  },
})

watchBuild()
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <Suspense fallback={<p className="p-6 text-soft">Opening …</p>}>
        <RouterProvider router={router} />
      </Suspense>
      <Toaster
        position="bottom-center"
        toastOptions={{
          className: '!rounded-[3px] !font-sans !border-rule !bg-paper !text-ink !shadow-none',
          classNames: {
            actionButton: '!rounded-[3px] !bg-leaf !text-white',
            cancelButton: '!rounded-[3px] !border !border-rule !bg-white !text-ink',
          },
        }}
      />
    </QueryClientProvider>
  </StrictMode>,
)
