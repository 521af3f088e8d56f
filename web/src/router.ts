import { createRouter, createWebHistory } from 'vue-router'

declare module 'vue-router' {
  interface RouteMeta {
    title?: string
    taster?: boolean
  }
}

export const steps = ['ask', 'match', 'plan', 'prep', 'fire', 'rest', 'table', 'settle'] as const

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: () => ({ top: 0 }),
  routes: [
    { path: '/', component: () => import('./barn/BarnPage.vue'), meta: { title: 'Barn' } },
    { path: '/crew', component: () => import('./crew/CrewPage.vue'), meta: { title: 'Crew' } },
    { path: '/you', component: () => import('./you/YouPage.vue'), meta: { title: 'You' } },
    { path: '/history', component: () => import('./crew/HistoryPage.vue'), meta: { title: 'Who did what' } },
    { path: '/enter', component: () => import('./session/EnterPage.vue'), meta: { title: 'Come in', open: true } },
    { path: '/pantry', component: () => import('./pantry/PantryPage.vue'), meta: { title: 'Pantry' } },
    { path: '/bench', component: () => import('./bench/BenchPage.vue'), meta: { title: 'Bench' } },
    { path: '/bench/:name', component: () => import('./bench/BenchPage.vue'), meta: { title: 'Bench' } },
    { path: '/pits', component: () => import('./pits/PitsPage.vue'), meta: { title: 'Pits' } },
    { path: '/pits/holders/:id(\\d+)', component: () => import('./pits/HolderPage.vue'), meta: { title: 'Holder' } },
    {
      path: '/taste/:token',
      component: () => import('./taste/TastePage.vue'),
      meta: { taster: true, title: 'A plate' },
    },
    {
      path: '/join/:code?',
      component: () => import('./taste/JoinPage.vue'),
      meta: { taster: true, title: 'A seat at the table' },
    },
    { path: '/book', component: () => import('./book/BookPage.vue'), meta: { title: 'House Book' } },
    { path: '/book/know', component: () => import('./book/KnowPage.vue'), meta: { title: 'What do we know' } },
    { path: '/book/cards/:id(\\d+)', component: () => import('./book/CardPage.vue'), meta: { title: 'Card' } },
    {
      path: '/book/cards/:id(\\d+)/wall',
      component: () => import('./book/WallPage.vue'),
      meta: { title: 'Card for the wall' },
    },
    { path: '/guide/:page?', component: () => import('./guide/GuidePage.vue') },
    { path: '/records', component: () => import('./records/RecordsPage.vue'), meta: { title: 'Records' } },
    { path: '/records/api', component: () => import('./records/ApiPage.vue'), meta: { title: 'What scripts can ask' } },
    { path: '/records/licences', component: () => import('./records/LicencesPage.vue'), meta: { title: 'Licences' } },
    { path: '/notebook', component: () => import('./notebook/NotebookPage.vue'), meta: { title: 'An old cook' } },
    { path: '/catalogue', component: () => import('./ask/CataloguePage.vue'), meta: { title: 'What can vary' } },
    { path: '/trials/new', component: () => import('./ask/AskPage.vue') },
    {
      path: '/trials/:id(\\d+)',
      component: () => import('./trial/TrialFrame.vue'),
      children: [
        { path: '', redirect: (to) => `/trials/${String(to.params.id)}/ask` },
        { path: 'ask', component: () => import('./ask/AskPage.vue') },
        { path: 'match', component: () => import('./match/MatchPage.vue') },
        { path: 'labels', component: () => import('./match/LabelsPage.vue') },
        { path: 'plan', component: () => import('./plan/PlanStep.vue') },
        { path: 'run-sheet', component: () => import('./plan/RunSheet.vue') },
        { path: 'prep', component: () => import('./prep/PrepPage.vue') },
        { path: 'fire', component: () => import('./fire/FirePage.vue') },
        { path: 'rest', component: () => import('./rest/RestPage.vue') },
        { path: 'table', component: () => import('./table/TablePage.vue') },
        { path: 'carve/:flight(\\d+)', component: () => import('./table/CarvePage.vue') },
        { path: 'ballots/:flight(\\d+)', component: () => import('./table/BallotsPage.vue') },
        { path: 'settle', component: () => import('./settle/SettleStep.vue') },
      ],
    },
    { path: '/:pathMatch(.*)*', component: () => import('./barn/NotFound.vue'), meta: { title: 'Nothing here' } },
  ],
})
