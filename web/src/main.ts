import './theme/fonts'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import App from './app/App.vue'
import { makeQueries } from './app/asking'
import { router } from './app/router'
import { makeVuetify } from './theme/vuetify'

createApp(App).use(makeVuetify()).use(VueQueryPlugin, { queryClient: makeQueries() }).use(router).mount('#app')
