import type { RouteObject } from 'react-router'
import { Layout } from './layout.tsx'
import { Loading } from './loading.tsx'
import { Problem } from './problem.tsx'

export const routes: RouteObject[] = [
  {
    path: '/',
    element: <Layout />,
    errorElement: <Problem />,
    hydrateFallbackElement: <Loading />,
    children: [
      {
        // A fault of one screen leaves the rail, and with it all other screens.
        errorElement: <Problem />,
        children: [
          {
            index: true,
            lazy: async () => ({ Component: (await import('../screens/builds/builds-screen.tsx')).BuildsScreen }),
          },
          {
            path: 'build/:build/brief',
            lazy: async () => ({ Component: (await import('../screens/brief/brief-screen.tsx')).BriefScreen }),
          },
          {
            path: 'build/:build/donors',
            lazy: async () => ({ Component: (await import('../screens/donors/donors-screen.tsx')).DonorsScreen }),
          },
          {
            path: 'build/:build/design',
            lazy: async () => ({ Component: (await import('../screens/design/design-screen.tsx')).DesignScreen }),
          },
          {
            path: 'build/:build/tally',
            lazy: async () => ({ Component: (await import('../screens/tally/tally-screen.tsx')).TallyScreen }),
          },
          {
            path: 'build/:build/colours',
            lazy: async () => ({ Component: (await import('../screens/colours/colours-screen.tsx')).ColoursScreen }),
          },
          {
            path: 'build/:build/buy',
            lazy: async () => ({ Component: (await import('../screens/buy/buy-screen.tsx')).BuyScreen }),
          },
          {
            path: 'build/:build/parcels',
            lazy: async () => ({ Component: (await import('../screens/parcels/parcels-screen.tsx')).ParcelsScreen }),
          },
          {
            path: 'build/:build/make',
            lazy: async () => ({ Component: (await import('../screens/make/make-screen.tsx')).MakeScreen }),
          },
          {
            path: 'build/:build/ledger',
            lazy: async () => ({ Component: (await import('../screens/ledger/ledger-screen.tsx')).LedgerScreen }),
          },
          {
            path: 'ledgers',
            lazy: async () => ({ Component: (await import('../screens/ledgers/ledgers-screen.tsx')).LedgersScreen }),
          },
          {
            path: 'parcels',
            lazy: async () => ({ Component: (await import('../screens/parcels/parcels-screen.tsx')).AllParcelsScreen }),
          },
          {
            path: 'parcels/bench/:order',
            lazy: async () => ({ Component: (await import('../screens/parcels/bench-screen.tsx')).BenchScreen }),
          },
          {
            path: 'shelf',
            lazy: async () => ({ Component: (await import('../screens/shelf/shelf-screen.tsx')).ShelfScreen }),
          },
          {
            path: 'together',
            lazy: async () => ({
              Component: (await import('../screens/together/together-screen.tsx')).TogetherScreen,
            }),
          },
          {
            path: 'shops',
            lazy: async () => ({ Component: (await import('../screens/shops/shops-screen.tsx')).ShopsScreen }),
          },
          {
            path: 'catalogue',
            lazy: async () => ({
              Component: (await import('../screens/catalogue/catalogue-screen.tsx')).CatalogueScreen,
            }),
          },
          {
            path: 'catalogue/set/:set',
            lazy: async () => ({ Component: (await import('../screens/catalogue/set-screen.tsx')).SetScreen }),
          },
          {
            path: 'data',
            lazy: async () => ({ Component: (await import('../screens/data/data-screen.tsx')).DataScreen }),
          },
          { path: '*', element: <Problem missing /> },
        ],
      },
    ],
  },
]
