import { createRouter, createWebHistory } from 'vue-router'
import DropFrame from '@/components/DropFrame.vue'
import DropPage from '@/pages/DropPage.vue'
import ChecksPage from '@/pages/ChecksPage.vue'
import DropsPage from '@/pages/DropsPage.vue'
import KitPage from '@/pages/KitPage.vue'
import StateNotice from '@/components/StateNotice.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'drops', component: DropsPage },
    { path: '/day/:date?', name: 'day', component: () => import('@/pages/DayPage.vue'), props: true },
    { path: '/callout/:id?', name: 'callout', component: () => import('@/pages/CalloutPage.vue'), props: true },
    { path: '/preplans/:id?', name: 'preplans', component: () => import('@/pages/PreplansPage.vue'), props: true },
    { path: '/practice', name: 'practice', component: () => import('@/pages/PracticePage.vue'), meta: { open: true } },
    {
      path: '/practice/do/:kind(faults|fails|move|apart)',
      name: 'exercise',
      component: () => import('@/pages/ExercisePage.vue'),
      props: true,
      meta: { open: true },
    },
    { path: '/practice/skills', name: 'skills', component: () => import('@/pages/SkillsPage.vue') },
    { path: '/practice/class/:id', name: 'class', component: () => import('@/pages/ClassPage.vue'), props: true },
    { path: '/join', name: 'join', component: () => import('@/pages/JoinPage.vue') },
    { path: '/store', name: 'store', component: () => import('@/pages/StorePage.vue') },
    { path: '/store/model/:id?', name: 'model', component: () => import('@/pages/ModelPage.vue'), props: true },
    { path: '/store/item/:id', name: 'item', component: () => import('@/pages/ItemPage.vue'), props: true },
    { path: '/due', name: 'due', component: () => import('@/pages/DuePage.vue') },
    { path: '/examine', name: 'examine', component: () => import('@/pages/ExaminePage.vue') },
    { path: '/labels', name: 'labels', component: () => import('@/pages/LabelsPage.vue') },
    { path: '/i/:code', name: 'code', component: () => import('@/pages/CodePage.vue'), props: true },
    { path: '/store/recalls', name: 'recalls', component: () => import('@/pages/RecallsPage.vue') },
    { path: '/store/kits', name: 'kits', component: () => import('@/pages/KitsPage.vue') },
    { path: '/store/kits/kit/:id?', name: 'kit-edit', component: () => import('@/pages/KitEditPage.vue'), props: true },
    { path: '/store/items/:id?', name: 'items', component: () => import('@/pages/ItemsPage.vue'), props: true },
    {
      path: '/store/import',
      name: 'import-items',
      component: () => import('@/pages/ImportPage.vue'),
      props: { kind: 'items' },
    },
    {
      path: '/people/import',
      name: 'import-people',
      component: () => import('@/pages/ImportPage.vue'),
      props: { kind: 'people' },
    },
    {
      path: '/me/import',
      name: 'import-hours',
      component: () => import('@/pages/ImportPage.vue'),
      props: { kind: 'hours' },
    },
    { path: '/people/person/:id?', name: 'person', component: () => import('@/pages/PersonPage.vue'), props: true },
    { path: '/incident', name: 'incident', component: () => import('@/pages/IncidentPage.vue') },
    { path: '/records', name: 'records', component: () => import('@/pages/RecordsPage.vue') },
    { path: '/people', name: 'people', component: () => import('@/pages/PeoplePage.vue') },
    { path: '/me', name: 'me', component: () => import('@/pages/MePage.vue') },
    { path: '/figures/:name?', name: 'figures', component: () => import('@/pages/FiguresPage.vue'), props: true },
    { path: '/glossary', name: 'glossary', component: () => import('@/pages/GlossaryPage.vue') },
    { path: '/tables', name: 'tables', component: () => import('@/pages/TablesPage.vue') },
    {
      path: '/drops/:id',
      component: DropFrame,
      props: true,
      children: [
        { path: '', name: 'drop', component: DropPage, props: true },
        { path: 'checks', name: 'checks', component: ChecksPage, props: true },
        { path: 'moves/:who?', name: 'moves', component: () => import('@/pages/MovesPage.vue'), props: true },
        { path: 'rescue', name: 'rescue', component: () => import('@/pages/RescuePage.vue'), props: true },
        { path: 'run', name: 'run', component: () => import('@/pages/RunPage.vue'), props: true },
        { path: 'team', name: 'team', component: () => import('@/pages/TeamPage.vue'), props: true },
        { path: 'history', name: 'history', component: () => import('@/pages/HistoryPage.vue'), props: true },
        { path: 'kit/:who?', name: 'kit', component: KitPage, props: true },
      ],
    },
    {
      path: '/:rest(.*)',
      component: StateNotice,
      props: { title: 'There is no such page', detail: 'Press / to find a drop or a page.' },
    },
  ],
})

/** What each page is called in the title of the window. */
export const pageWords: Record<string, string> = {
  drops: 'Drops',
  day: 'Day',
  callout: 'Callout',
  preplans: 'Pre-plans',
  practice: 'Practice',
  exercise: 'Exercise',
  skills: 'Who practised what',
  class: 'Class',
  join: 'Join a team',
  store: 'Store',
  model: 'Model',
  item: 'Item',
  due: 'Due',
  examine: 'Examination',
  labels: 'Labels',
  code: 'Code',
  recalls: 'Recalls',
  kits: 'Kits',
  'kit-edit': 'Kit',
  items: 'Items',
  'import-items': 'Import of items',
  'import-people': 'Import of people',
  'import-hours': 'Import of hours',
  person: 'Person',
  incident: 'Incident',
  records: 'Records',
  people: 'People',
  me: 'My page',
  figures: 'Quick figures',
  glossary: 'Glossary',
  tables: 'Tables behind the figures',
  drop: 'Drop',
  checks: 'Checks',
  moves: 'Moves',
  rescue: 'Rescue',
  team: 'Team',
  kit: 'Kit',
  history: 'History',
  run: 'Run',
}

/** The pages of a drop, in the order of the day. */
export const pages = [
  { name: 'drop', words: 'Drop' },
  { name: 'kit', words: 'Kit' },
  { name: 'checks', words: 'Checks' },
  { name: 'moves', words: 'Moves' },
  { name: 'team', words: 'Team' },
  { name: 'rescue', words: 'Rescue' },
  { name: 'run', words: 'Run' },
] as const

/** The pages of the team, beside its drops. */
export const teamPages = [
  { name: 'callout', words: 'Callout' },
  { name: 'day', words: 'Day' },
  { name: 'drops', words: 'Drops' },
  { name: 'store', words: 'Store' },
  { name: 'due', words: 'Due' },
  { name: 'records', words: 'Records' },
  { name: 'people', words: 'People' },
  { name: 'practice', words: 'Practice' },
] as const
