//! Core, seen from outside: the demo's tracker, built by core alone.

// Days of tests are near now.
#![allow(clippy::disallowed_methods)]

mod access;
mod automation;
mod building;
mod faults;
mod fixture;
mod forms;
mod formulas;
mod history;
mod periods;
mod queries;
mod recalculation;
mod sentences;
