//! What a slip says of a field, clause by clause, and what each phrase does when it is pressed.

use super::{Held, Slip};
use crate::{
    condition::{Check, Comparison, Condition, When},
    id::RecordId,
    schema::Kind,
    uses::{Use, Using},
    view::Order,
    vocabulary::orders,
};
use serde::{Deserialize, Serialize};

/// Most uses that are named.
const USES: usize = 8;

/// A clause: its word, and what is said under it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SlipClause {
    pub word: String,
    pub phrases: Vec<SlipPhrase>,
}

/// Words, and what pressing them does.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SlipPhrase {
    pub text: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub does: Option<SlipAct>,
}

/// What pressing a phrase does.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "act", rename_all = "lowercase")]
pub enum SlipAct {
    /// Narrows the view to these records.
    Narrow {
        only: Condition,
    },
    /// Begins a condition on the field.
    Where,
    Order {
        descending: bool,
    },
    /// Groups by the field, or not any more.
    Group {
        on: bool,
    },
    /// To the formula of a calculation, or to what a summary takes.
    Formula,
    Settings,
    /// A new field beside it.
    Add {
        behind: bool,
    },
    /// A new calculation or summary behind it.
    Compute {
        summary: bool,
    },
    /// Out of this view.
    Hide,
    /// To what uses the field.
    Use {
        what: Using,
        number: u32,
        table: Option<crate::id::TableId>,
    },
}

fn plain(text: impl Into<String>) -> SlipPhrase {
    SlipPhrase { text: text.into(), does: None }
}

fn does(text: impl Into<String>, act: SlipAct) -> SlipPhrase {
    SlipPhrase { text: text.into(), does: Some(act) }
}

impl Slip<'_, '_> {
    pub(super) fn clauses(&self, held: &Held) -> Vec<SlipClause> {
        let builds = self.lens.builds();
        let all = [
            ("only", self.narrowings(held)),
            ("stands", self.orders()),
            ("comes", self.comes(builds)),
            ("feeds", if builds { self.feeds() } else { Vec::new() }),
            ("beside", self.beside(builds)),
        ];
        let clause = |(word, phrases): (&str, Vec<SlipPhrase>)| SlipClause { word: word.to_owned(), phrases };
        all.into_iter().filter(|(_, phrases)| !phrases.is_empty()).map(clause).collect()
    }

    /// *the 31 before today*, *the 5 that hold nothing*.
    fn narrowings(&self, held: &Held) -> Vec<SlipPhrase> {
        let mut phrases = Vec::new();
        let mut offer = |words: &str, condition: Condition| {
            let count = condition.matching(self.lens, self.table).intersection_count(&self.matching);
            if count > 0 && count < self.matching.count_ones(..) {
                phrases.push(does(
                    format!("the {} {words}", self.lens.clock().customs().count_words(count, "", "").trim()),
                    SlipAct::Narrow { only: condition },
                ));
            }
        };
        if matches!(self.kind, Kind::Date | Kind::DateTime | Kind::Range | Kind::CreatedAt | Kind::ChangedAt) {
            let day = |how, days| self.test(Check::Day { how, than: When::Today(days) });
            offer("before today", day(Comparison::Under, 0));
            offer("today", day(Comparison::Is, 0));
            offer("in the seven days after", Condition::All(vec![day(Comparison::Over, 0), day(Comparison::AtMost, 7)]));
            offer("later", day(Comparison::Over, 7));
        }
        if held.errors > 0 {
            offer("that have no value", self.test(Check::Error));
        }
        if held.empty > 0 {
            offer("that hold nothing", self.test(Check::Empty));
            offer("that hold something", self.test(Check::Filled));
        }
        let def = self.lens.dataset().table(self.table).and_then(|home| home.def.field(self.field));
        if def.is_some_and(|def| def.copies.is_some()) {
            offer("that are not what they were copied from", self.test(Check::Differs));
        }
        if !matches!(self.kind, Kind::Files | Kind::Button { .. }) {
            phrases.push(does("those where …", SlipAct::Where));
        }
        phrases
    }

    fn orders(&self) -> Vec<SlipPhrase> {
        if matches!(self.kind, Kind::Files | Kind::Button { .. }) {
            return Vec::new();
        }
        let first = self.query.sorts.first();
        let is = |descending| first == Some(&Order { field: self.field, descending });
        let order = |n: usize, words: &str| {
            let descending = n == 1;
            if is(descending) { plain(words) } else { does(words, SlipAct::Order { descending }) }
        };
        let mut phrases: Vec<SlipPhrase> = orders(self.kind).iter().enumerate().map(|(n, words)| order(n, words)).collect();
        let grouped = self.query.groups.iter().any(|group| group.field == self.field);
        phrases.push(does(if grouped { "not in groups any more" } else { "in groups of the same" }, SlipAct::Group { on: !grouped }));
        phrases
    }

    /// How values come to stand here.
    fn comes(&self, builds: bool) -> Vec<SlipPhrase> {
        let ds = self.lens.dataset();
        let Some(def) = ds.table(self.table).and_then(|t| t.def.field(self.field)) else { return Vec::new() };
        let mut phrases = match &def.kind {
            Kind::Calculation { formula, .. } if builds => vec![plain("by itself:"), does(formula.text(ds), SlipAct::Formula)],
            Kind::Calculation { .. } => vec![plain("by itself, by a formula")],
            Kind::Summary(_) if builds => vec![plain("by itself,"), does("over linked records", SlipAct::Formula)],
            Kind::Summary(_) => vec![plain("by itself, over linked records")],
            Kind::Carried { .. } => vec![plain("along a link, as it stands there now")],
            Kind::Button { .. } => vec![plain("by being pressed")],
            Kind::Numbering { .. } => vec![plain("by itself, when a record is added")],
            kind if !kind.takes_input() => vec![plain("by itself")],
            _ if self.lens.writes(self.table, self.field) => vec![plain("by whoever may change the record, you among them")],
            _ => vec![plain("by others: it is not yours to change")],
        };
        if let Some(sample) = self.sample() {
            phrases.push(plain(sample));
        }
        if def.required {
            phrases.push(plain("it has to be filled in"));
        }
        if def.unique {
            phrases.push(plain("no two records hold the same"));
        }
        phrases
    }

    /// A computed field's way with one real record: *for FR-2026-0318: 22 Nov 2026 + 2 makes 24 Nov 2026*.
    fn sample(&self) -> Option<String> {
        let sample = |row| {
            let record = RecordId::at_row(row);
            let why = self.lens.why(self.table, record, self.field).filter(|why| !why.with_values.is_empty() && !why.text.is_empty())?;
            let name = self.lens.record_name(self.table, record)?.name;
            Some(format!("for {name}: {} makes {}", why.with_values, why.text))
        };
        self.matching.ones().take(20).find_map(sample)
    }

    fn feeds(&self) -> Vec<SlipPhrase> {
        let mut uses = self.lens.dataset().uses(self.table, self.field);
        // What would fall without it stands first.
        uses.sort_by_key(|one| !one.holds);
        let mut named = std::collections::HashSet::new();
        uses.retain(|one| named.insert((one.what, one.number)));
        let named = |Use { what, number, table, name, .. }: Use| does(name, SlipAct::Use { what, number, table });
        let more = uses.len().saturating_sub(USES);
        let mut phrases: Vec<SlipPhrase> = uses.into_iter().take(USES).map(named).collect();
        if more > 0 {
            phrases.push(plain(format!("and {}", self.lens.clock().customs().count_words(more, "other place", "other places"))));
        }
        phrases
    }

    fn beside(&self, builds: bool) -> Vec<SlipPhrase> {
        let mut phrases = Vec::new();
        if builds {
            phrases.push(does("a new field behind it", SlipAct::Add { behind: true }));
            phrases.push(does("before it", SlipAct::Add { behind: false }));
            phrases.push(does("a calculation", SlipAct::Compute { summary: false }));
            phrases.push(does("a summary", SlipAct::Compute { summary: true }));
            phrases.push(does("all its settings", SlipAct::Settings));
        }
        phrases.push(does("out of this view", SlipAct::Hide));
        phrases
    }
}
