import { createRouter, createWebHistory } from 'vue-router'
import { comeBy } from './api/client'

export const PLACES = ['today', 'folders', 'names', 'matches', 'catalog', 'house'] as const
/** Places of who looks at the catalog and does not keep it. */
export const HOUSEHOLD_PLACES = ['catalog', 'you'] as const
/** For who besides may tidy a library. */
export const TIDIER_PLACES = ['catalog', 'names', 'you'] as const
/** Routes that such a person may open. */
export const HOUSEHOLD_ROUTES: readonly string[] = [
  'front',
  'catalog',
  'entry',
  'with',
  'lists',
  'list',
  'play',
  'code',
  'you',
]
/** Pages without the frame, which say of themselves who may see them. */
export const OUTSIDE_ROUTES: readonly string[] = [
  'welcome',
  'invited',
  'shared',
  'shared-play',
  'television',
]

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: (_to, _from, saved) => saved ?? { top: 0 },
  routes: [
    { path: '/', redirect: '/today' },
    {
      path: '/welcome',
      name: 'welcome',
      component: () => import('./views/welcome/WelcomeView.vue'),
    },
    {
      path: '/invitation/:key',
      name: 'invited',
      component: () => import('./views/welcome/InvitedView.vue'),
    },
    { path: '/today', name: 'today', component: () => import('./views/today/TodayView.vue') },
    {
      path: '/folders',
      name: 'folders',
      component: () => import('./views/folders/FoldersView.vue'),
    },
    { path: '/names', name: 'names', component: () => import('./views/names/NamesView.vue') },
    {
      path: '/names/missing',
      name: 'missing',
      component: () => import('./views/missing/MissingView.vue'),
    },
    { path: '/names/twice', name: 'twice', component: () => import('./views/twice/TwiceView.vue') },
    {
      path: '/matches',
      name: 'matches',
      component: () => import('./views/matches/MatchesView.vue'),
    },
    {
      path: '/catalog',
      name: 'front',
      component: () => import('./views/catalog/FrontView.vue'),
    },
    {
      path: '/catalog/songs',
      name: 'songs',
      component: () => import('./views/catalog/SongsView.vue'),
    },
    {
      path: '/catalog/photos/albums',
      name: 'albums',
      component: () => import('./views/lists/ListsView.vue'),
    },
    {
      path: '/catalog/photos/map',
      name: 'map',
      component: () => import('./views/catalog/MapView.vue'),
    },
    {
      path: '/catalog/:shelf(music|photos)/folders',
      name: 'lying',
      component: () => import('./views/catalog/LyingView.vue'),
    },
    {
      path: '/catalog/:shelf(films|series|music|photos)/by/:group([a-z]+)',
      name: 'groups',
      component: () => import('./views/catalog/GroupsView.vue'),
    },
    {
      path: '/catalog/:shelf(films|series|music|photos)',
      name: 'catalog',
      component: () => import('./views/catalog/CatalogView.vue'),
    },
    {
      path: '/catalog/entry/:id(\\d+)',
      name: 'entry',
      component: () => import('./views/catalog/EntryView.vue'),
    },
    {
      path: '/catalog/with',
      name: 'with',
      component: () => import('./views/catalog/WithView.vue'),
    },
    {
      path: '/catalog/lists',
      name: 'lists',
      component: () => import('./views/lists/ListsView.vue'),
    },
    {
      path: '/catalog/list/:id(\\d+)',
      name: 'list',
      component: () => import('./views/lists/ListView.vue'),
    },
    {
      path: '/s/:share',
      name: 'shared',
      component: () => import('./views/shared/SharedView.vue'),
    },
    {
      path: '/s/:share/play/:id(\\d+)',
      name: 'shared-play',
      component: () => import('./views/play/PlayView.vue'),
    },
    { path: '/code/:code?', name: 'code', component: () => import('./views/welcome/CodeView.vue') },
    {
      path: '/television',
      name: 'television',
      component: () => import('./views/welcome/TelevisionView.vue'),
    },
    { path: '/play/:id(\\d+)', name: 'play', component: () => import('./views/play/PlayView.vue') },
    { path: '/house', name: 'house', component: () => import('./views/house/HouseView.vue') },
    {
      path: '/house/conventions/:name?',
      name: 'conventions',
      component: () => import('./views/conventions/ConventionsView.vue'),
    },
    { path: '/you', name: 'you', component: () => import('./views/house/YouView.vue') },
    { path: '/:rest(.*)*', redirect: '/today' },
  ],
})

router.beforeEach((to) => comeBy(typeof to.params.share === 'string' ? to.params.share : ''))
