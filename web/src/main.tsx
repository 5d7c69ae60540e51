import '@fontsource-variable/hanken-grotesk/wght.css'
import './shared/alphabets.css'
import { ChakraProvider } from '@chakra-ui/react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, RouterProvider } from 'react-router'
import { Problem } from './shared/api/client'
import { system } from './shared/theme'
import { Orders } from './shell/shelf/Orders'
import { Shelf } from './shell/shelf/Shelf'
import { Workbench } from './shell/workbench/Workbench'
import { Ticket } from './stages/cut/Ticket'
import { OrderBench } from './stages/orders/OrderBench'

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      // Only a server that is away is worth asking again; it may be back any moment.
      retry: (_count, error) => error instanceof Problem && error.away,
      retryDelay: 1500,
      networkMode: 'always',
      refetchOnWindowFocus: false,
    },
    mutations: { networkMode: 'always' },
  },
})

const router = createBrowserRouter([
  { path: '/', element: <Shelf /> },
  { path: '/orders', element: <Orders /> },
  { path: '/order/:id', element: <OrderBench /> },
  { path: '/design/:id', element: <Workbench /> },
  { path: '/design/:id/ticket', element: <Ticket /> },
  { path: '*', element: <Shelf /> },
])

const root = document.getElementById('root')
if (root)
  createRoot(root).render(
    <StrictMode>
      <ChakraProvider value={system}>
        <QueryClientProvider client={queries}>
          <RouterProvider router={router} />
        </QueryClientProvider>
      </ChakraProvider>
    </StrictMode>,
  )
