import '@fontsource-variable/source-serif-4/wght.css'
import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import './tokens.css'
import './looks.css'
