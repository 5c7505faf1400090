//! What a view shows, in one sentence.

use super::{GroupBy, Order, OwnOrder, Query, Shape, Tally};
use crate::{
    access::Lens,
    condition::Condition,
    id::{FieldId, TableId},
    schema::{Kind, within_sentence},
    sentence::{Phrase, Sentence},
    value::list_text,
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

impl Query {
    /// *42 of 318 faults where status is not made good, grouped by district, soonest due first, 9 of 21 fields, as rows.*
    ///
    /// `own`: the view's own order, where it has one.
    pub fn to_sentence(&self, lens: &Lens<'_>, table: TableId, total: usize, matching: usize, own: Option<&OwnOrder>) -> Vec<Phrase> {
        let mut s = Sentence::default();
        let Some(home) = lens.ds.table(table) else { return Vec::new() };
        let count = |n: usize| lens.clock.customs().count_text(n);
        let noun = if total == 1 { home.def.one.clone() } else { home.def.many() };
        if self.condition.is_nothing() {
            s.plain(if total == 1 { "Just " } else { "All " });
            s.strong(count(total));
            s.plain(format!(" {noun}"));
        } else {
            s.strong(count(matching));
            s.plain(format!(" of {} {noun} where ", count(total)));
            condition_phrases(&mut s, &self.condition, lens, table, "/condition");
        }
        if let Shape::CrossTab(tab) = &self.shape {
            tab.say(&mut s, lens, table, !self.tallies.is_empty(), "");
            self.say_figures(&mut s, lens, table);
            s.plain(", as ");
            s.edit(self.shape.words(lens, table), "/shape");
            s.plain(".");
            s.offer("condition", "/condition");
            if tab.across.is_empty() {
                s.offer("across", "/shape/across");
            }
            if tab.within.is_none() {
                s.offer("within", "/shape/within");
            }
            if self.tallies.is_empty() {
                s.offer("figure", "/tallies");
            }
            return s.phrases();
        }
        let lanes = matches!(self.shape, Shape::Lanes(_));
        // Across lanes lies one band at most.
        for (place, group) in self.groups.iter().enumerate().filter(|(_, group)| !lanes || self.grouping().contains(group)) {
            s.plain(match (lanes, place) {
                (true, _) => ", in bands by ",
                (false, 0) => ", grouped by ",
                (false, _) => " and ",
            });
            s.edit(group_words(lens, table, *group), format!("/groups/{place}"));
        }
        for (place, sort) in self.sorts.iter().enumerate() {
            s.plain(if place == 0 { ", " } else { ", then " });
            s.edit(sort_words(lens, table, *sort), format!("/sorts/{place}"));
        }
        if own.is_some() && self.sorts.is_empty() && self.is_ordered() {
            s.plain(", ");
            s.edit("in its own order", "/own");
        } else if lanes && self.sorts.is_empty() && self.standing(lens, table).is_some() {
            s.plain(", longest there first");
        }
        let readable = |id| lens.reads(table, id);
        let shown = self.fields.iter().filter(|f| readable(f.field)).count();
        let all = home.def.fields.iter().filter(|f| readable(f.id)).count();
        s.plain(", showing ");
        s.edit(format!("{shown} of {all} fields"), "/fields");
        let highlights = lens.highlights(table, &BTreeSet::new());
        let acting = highlights.iter().filter(|(_, one)| !self.without.contains(&one.id)).count();
        if !highlights.is_empty() {
            let all = lens.clock.customs().count_words(highlights.len(), "highlight", "highlights");
            s.plain(", ");
            s.edit(if acting == highlights.len() { all } else { format!("{acting} of {all}") }, "/without");
        }
        if !matches!(self.shape, Shape::Rows(_)) {
            self.say_figures(&mut s, lens, table);
        }
        s.plain(", as ");
        s.edit(self.shape.words(lens, table), "/shape");
        for (words, at) in self.shape.further_words(lens, table) {
            s.plain(", ");
            s.edit(words, format!("/shape/{at}"));
        }
        s.plain(".");
        s.offer("condition", "/condition");
        if self.groups.is_empty() {
            s.offer(if lanes { "band" } else { "group" }, "/groups");
        }
        s.offer("sort", "/sorts");
        if self.tallies.is_empty() {
            s.offer("figure", "/tallies");
        }
        if highlights.is_empty() && lens.builds() {
            s.offer("highlight", "/without");
        }
        s.phrases()
    }

    /// *, with the sum of hours needed*.
    pub(crate) fn say_figures(&self, s: &mut Sentence, lens: &Lens<'_>, table: TableId) {
        if self.tallies.is_empty() {
            return;
        }
        s.plain(", with ");
        s.edit(self.figures_words(lens, table), "/tallies");
    }

    /// *the sum of hours needed and the latest due*.
    pub(crate) fn figures_words(&self, lens: &Lens<'_>, table: TableId) -> String {
        list_text(&self.tallies.iter().map(|tally| figure_words(lens, table, *tally)).collect::<Vec<_>>(), "and")
    }
}

impl Query {
    /// Of a view that shows nothing: what each part of its condition would leave alone, so that one sees which to drop.
    pub fn parts_alone(&self, lens: &Lens<'_>, table: TableId) -> Vec<PartAlone> {
        let Condition::All(parts) = &self.condition else { return Vec::new() };
        let alone = |(place, part): (usize, &Condition)| PartAlone {
            at: format!("/condition/all/{place}"),
            words: part.to_sentence(lens, table),
            leaves: counted(lens, table, part.matching(lens, table).count_ones(..)),
        };
        parts.iter().enumerate().map(alone).collect()
    }
}

/// What a part of a condition would leave if it stood alone.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PartAlone {
    /// Its place in the view's query.
    pub at: String,
    /// *status is made good*.
    pub words: String,
    /// *42 faults*.
    pub leaves: String,
}

/// *the sum of hours needed*.
pub(crate) fn figure_words(lens: &Lens<'_>, table: TableId, tally: Tally) -> String {
    format!("{} {}", tally.figure.words(), field_name(lens, table, tally.field))
}

/// *district*, *reported on by month, last first*.
pub(crate) fn group_words(lens: &Lens<'_>, table: TableId, group: GroupBy) -> String {
    format!("{}{}", field_name(lens, table, group.field), group.run_words())
}

/// So many records of a table, as it calls them.
pub(crate) fn counted(lens: &Lens<'_>, table: TableId, count: usize) -> String {
    lens.ds.table(table).map_or_else(String::new, |home| lens.clock.customs().count_words(count, &home.def.one, &home.def.many()))
}

/// One phrase a test, at its place below `at`; the words between are plain.
pub(crate) fn condition_phrases(s: &mut Sentence, condition: &Condition, lens: &Lens<'_>, table: TableId, at: &str) {
    let (parts, list, word) = match condition {
        Condition::Test(test) => {
            s.edit(test.to_sentence(lens, table), at);
            return;
        }
        Condition::All(parts) => (parts, "all", " and "),
        Condition::Any(parts) => (parts, "any", " or "),
    };
    for (place, part) in parts.iter().enumerate() {
        if place > 0 {
            s.plain(word);
        }
        let brackets = parts.len() > 1 && matches!(part, Condition::All(p) | Condition::Any(p) if p.len() > 1);
        if brackets {
            s.plain("(");
        }
        condition_phrases(s, part, lens, table, &format!("{at}/{list}/{place}"));
        if brackets {
            s.plain(")");
        }
    }
}

fn field_name(lens: &Lens<'_>, table: TableId, field: FieldId) -> String {
    let def = lens.ds.table(table).and_then(|t| t.def.field(field));
    def.map_or_else(|| "a field that is gone".into(), |f| within_sentence(&f.name))
}

/// A sort in words that fit the field's kind: *soonest due first*, *by title*.
pub(crate) fn sort_words(lens: &Lens<'_>, table: TableId, sort: Order) -> String {
    let name = field_name(lens, table, sort.field);
    let kind = lens.ds.shown_kind(table, sort.field).map(|(_, kind)| kind);
    match (kind, sort.descending) {
        (Some(Kind::Date | Kind::DateTime | Kind::CreatedAt | Kind::ChangedAt), false) => format!("earliest {name} first"),
        (Some(Kind::Date | Kind::DateTime | Kind::CreatedAt | Kind::ChangedAt), true) => format!("latest {name} first"),
        (Some(kind), false) if kind.is_number() => format!("least {name} first"),
        (Some(kind), true) if kind.is_number() => format!("most {name} first"),
        (_, false) => format!("by {name}"),
        (_, true) => format!("by {name}, last first"),
    }
}
