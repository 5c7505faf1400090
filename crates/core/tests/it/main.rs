//! Core, seen from outside: the demo's tracker, built by core alone.

mod access;
mod automation;
mod faults;
mod fixture;
mod history;
mod periods;
mod queries;
mod sentences;
