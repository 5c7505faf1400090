import './theme/fonts'
import { createApp } from 'vue'
import App from './app/App.vue'
import { router } from './app/router'
import { makeVuetify } from './theme/vuetify'

createApp(App).use(makeVuetify()).use(router).mount('#app')
