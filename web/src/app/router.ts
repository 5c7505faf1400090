import { createRouter, createWebHistory, type RouteLocationNormalized } from 'vue-router'
import { useSession } from '@/features/session/session'

declare module 'vue-router' {
  interface RouteMeta {
    /** Open to people who are not signed in. */
    open?: boolean
  }
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/sign-in', name: 'sign-in', component: () => import('@/features/session/SignIn.vue'), meta: { open: true } },
    { path: '/begin/:token', name: 'begin', component: () => import('@/features/session/BeginPage.vue'), meta: { open: true } },
    { path: '/come-in/:token', name: 'come-in', component: () => import('@/features/session/ComeInPage.vue'), meta: { open: true } },
    { path: '/password/:token', name: 'password', component: () => import('@/features/session/ComeInPage.vue'), meta: { open: true } },
    { path: '/address/:token', name: 'address', component: () => import('@/features/session/AddressPage.vue'), meta: { open: true } },
    { path: '/me', name: 'own', component: () => import('@/features/session/OwnPage.vue') },
    { path: '/people', name: 'people', component: () => import('@/features/people/PeoplePage.vue') },
    { path: '/', name: 'home', component: () => import('@/features/home/HomePage.vue') },
    { path: '/rounds', name: 'rounds', component: () => import('@/features/rounds/RoundsPage.vue') },
    { path: '/inbox', name: 'inbox', component: () => import('@/features/inbox/InboxPage.vue') },
    { path: '/d/:dashboard(\\d+)', name: 'dashboard', component: () => import('@/features/dashboard/DashboardPage.vue') },
    { path: '/find', name: 'find-all', component: () => import('@/features/find/FindPage.vue') },
    { path: '/start', name: 'start', component: () => import('@/features/start/StartPage.vue') },
    { path: '/post-room', name: 'post-room', component: () => import('@/features/post-room/PostRoom.vue') },
    {
      path: '/t/:tracker(\\d+)',
      component: () => import('@/features/tracker/TrackerFrame.vue'),
      children: [
        { path: '', name: 'tracker', component: () => import('@/features/groundplan/GroundplanPage.vue') },
        { path: ':table(\\d+)/:view(\\d+)?', name: 'view', component: () => import('@/features/view/ViewPage.vue') },
        { path: ':table(\\d+)/:view(\\d+)/print', name: 'print', component: () => import('@/features/view/print/PrintPage.vue') },
        { path: ':table(\\d+)/r/:record(\\d+)', name: 'record', component: () => import('@/features/folio/FolioPage.vue') },
        {
          path: ':table(\\d+)/calculations/:field(\\d+|new)',
          name: 'calculation',
          component: () => import('@/features/formula/CalculationPage.vue'),
        },
        { path: ':table(\\d+)/summaries/:field(\\d+|new)', name: 'summary', component: () => import('@/features/formula/SummaryPage.vue') },
        { path: ':table(\\d+)/fields', name: 'design', component: () => import('@/features/design/DesignPage.vue') },
        { path: ':table(\\d+)/about', name: 'hangs', component: () => import('@/features/groundplan/HangsPage.vue') },
        { path: ':table(\\d+)/highlights', name: 'highlights', component: () => import('@/features/highlight/HighlightsPage.vue') },
        { path: ':table(\\d+)/doubles', name: 'doubles', component: () => import('@/features/bulk/DoublesPage.vue') },
        { path: 'bin', name: 'bin', component: () => import('@/features/tracker/BinPage.vue') },
        // As it stands on paper: a number has a dash in it.
        { path: ':number([^/]+-[^/]+)', name: 'numbered', component: () => import('@/features/folio/NumberedPage.vue') },
        { path: 'find', name: 'find', component: () => import('@/features/find/FindPage.vue') },
        { path: 'tell', name: 'tell', component: () => import('@/features/import/TellPage.vue') },
        { path: 'import', name: 'import', component: () => import('@/features/import/ImportPage.vue') },
        { path: 'forms', name: 'forms', component: () => import('@/features/form/FormsPage.vue') },
        { path: 'forms/:form(\\d+)/answers', name: 'answers', component: () => import('@/features/form/AnswersPage.vue') },
        { path: 'forms/:form(\\d+)/poster', name: 'poster', component: () => import('@/features/form/PosterPage.vue') },
        { path: 'forms/:form(\\d+)', name: 'form', component: () => import('@/features/form/FormDesign.vue') },
        { path: 'pages', name: 'pages', component: () => import('@/features/page/PagesPage.vue') },
        { path: 'pages/:page(\\d+)', name: 'page', component: () => import('@/features/page/PageDesign.vue') },
        { path: 'documents', name: 'documents', component: () => import('@/features/document/DocumentsPage.vue') },
        { path: 'documents/:document(\\d+)', name: 'document', component: () => import('@/features/document/DocumentPage.vue') },
        { path: 'automations', name: 'automations', component: () => import('@/features/automation/AutomationsPage.vue') },
        { path: 'access', name: 'access', component: () => import('@/features/access/AccessPage.vue') },
      ],
    },
    { path: '/:rest(.*)*', name: 'nowhere', component: () => import('./NowherePage.vue'), meta: { open: true } },
  ],
})

/** Has the pages of where one goes come while it is asked who is signed in, rather than after. */
function fetchPages({ matched }: RouteLocationNormalized) {
  for (const page of matched.map((route) => route.components?.default)) {
    // What a page can't be read for is said when it is gone to.
    if (typeof page === 'function') void Promise.resolve((page as () => unknown)()).catch(() => undefined)
  }
}

router.beforeEach(async (to) => {
  const session = useSession()
  if (to.meta.open) return true
  const known = session.load()
  fetchPages(to)
  await known
  return session.me.value ? true : { name: 'sign-in', query: { then: to.fullPath } }
})
