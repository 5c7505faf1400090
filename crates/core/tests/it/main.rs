//! Core, seen from outside: the demo's tracker, built by core alone.

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
