// The page at a message's link: nothing of the application, and small.
import '../theme/fonts'
import { createApp } from 'vue'
import ReplyPage from './ReplyPage.vue'

createApp(ReplyPage).mount('#app')
