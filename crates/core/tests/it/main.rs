//! Core, seen from outside: the demo's tracker, built by core alone.

#![allow(clippy::cast_possible_truncation, clippy::cast_possible_wrap, clippy::cast_sign_loss, reason = "small figures of its own")]
// A sample of every kind of field is one long literal.
#![recursion_limit = "256"]
// Days of tests are near now.
#![allow(clippy::disallowed_methods)]

mod access;
mod adding;
mod again;
mod almanac;
mod automation;
mod before;
mod blocks;
mod building;
mod bulk;
mod calls;
mod channels;
mod conversions;
mod course;
mod crosstab;
mod dashboards;
mod documents;
mod everyday;
mod exports;
mod faults;
mod find;
mod fixture;
mod folio;
mod following;
mod forks;
mod forms;
mod formulas;
mod ground;
mod groundplans;
mod handed_on;
mod heard;
mod highlights;
mod history;
mod home;
mod model;
mod old;
mod opt_outs;
mod orders;
mod page_shapes;
mod pages;
mod periods;
mod queries;
mod recalculation;
mod removals;
mod replies;
mod rounds;
mod scripts;
mod sentences;
mod slips;
mod stages;
mod talk;
mod team;
mod telling;
mod texts;
mod trails;
mod ways_in;
mod whole;
mod words;
mod worked_out;
mod world;
