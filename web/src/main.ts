import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { sayFailures, sayMissingPages } from './lib/failed'
import { keepOnDevice } from './lib/offline'
import { pageWords, router } from './router'
import './style.css'

keepOnDevice()

const app = createApp(App)
sayFailures(app)
sayMissingPages(router, pageWords)
app
  .use(createPinia())
  .use(router)
  .use(VueQueryPlugin, { queryClientConfig: { defaultOptions: { queries: { staleTime: 30_000, retry: 1 } } } })
  .mount('#app')
