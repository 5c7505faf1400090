<template>
  <section class="nowhere">
    <h1>There is nothing at this address</h1>
    <p class="quiet">It may have been taken away, or it is not open to you.</p>
    <router-link to="/">To your trackers</router-link>
  </section>
</template>

<style scoped>
.nowhere {
  max-width: 520px;
  margin: 80px auto;
  padding: 0 var(--gap-5);
}
</style>
