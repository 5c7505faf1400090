// The form as its respondents load it: nothing of the application, and small.
import '../theme/fonts'
import { createApp } from 'vue'
import FormPage from './FormPage.vue'

createApp(FormPage, { link: decodeURIComponent(location.pathname.split('/')[2] ?? '') }).mount('#app')
