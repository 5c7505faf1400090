//! Core, seen from outside: the demo's tracker, built by core alone.

mod access;
mod automation;
mod building;
mod faults;
mod fixture;
mod formulas;
mod history;
mod periods;
mod queries;
mod recalculation;
mod sentences;
