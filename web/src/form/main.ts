// The form as its respondents load it: nothing of the application, and small.
import '../theme/fonts'
import { createApp } from 'vue'
import FormPage from './FormPage.vue'

createApp(FormPage).mount('#app')
