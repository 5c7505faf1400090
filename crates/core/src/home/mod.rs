//! Home: a short report of what others did in each tracker since somebody last looked, as far as they may see it.

mod on_you;
mod words;

pub use on_you::{OnYou, on_you};
pub use words::{HomeCounts, HomeOrder, Since, home_sentence, home_title};

use crate::{
    access::Lens,
    dataset::{Meta, Table},
    groundplan::LooseEnd,
    id::{RecordId, TableId},
    people::Actor,
    schema::Kind,
    sentence::Tone,
};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// Strokes that the time until now is drawn in.
pub const STROKES: u8 = 96;

/// What happened in a tracker.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Report {
    /// From when on it tells, in words: *yesterday at 17:42*; empty: they have never looked.
    pub since: String,
    /// How many records came or were changed.
    pub count: usize,
    /// In sentences. Where nothing happened, it goes on from the tracker’s name: *is as you left it.*
    pub says: Vec<ReportPiece>,
    /// How many things happened in each part of the time, from the earliest on; empty where nothing did.
    pub strokes: Vec<u32>,
    /// What hangs loose there.
    pub loose: Vec<LooseEnd>,
}

/// A run of words in a report, and where it leads.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ReportPiece {
    pub text: String,
    pub tone: Tone,
    /// The table where it can be seen.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub table: Option<TableId>,
    /// The record that it is about.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub record: Option<RecordId>,
}

/// What others did to a table’s records since a moment.
#[derive(Debug, Default)]
struct Doings {
    came: Vec<(RecordId, Timestamp, Option<Actor>)>,
    changed: Vec<(RecordId, Timestamp, Option<Actor>)>,
}

impl Doings {
    fn count(&self) -> usize {
        self.came.len().saturating_add(self.changed.len())
    }
}

impl Lens<'_> {
    /// What others did here since a moment. `looked`: that is when whoever asks last looked.
    pub fn report(&self, since: Option<Timestamp>, looked: bool) -> Report {
        let loose = self.loose_ends();
        let Some(since) = since else {
            return Report { says: self.never_looked(), loose, ..Report::default() };
        };
        let tables: Vec<(&Table, Doings)> = self.open_tables().map(|home| (home, self.doings(home, since))).collect();
        let count = tables.iter().map(|(_, doings)| doings.count()).sum();
        Report {
            since: words::moment(since, self.clock()),
            count,
            says: if count == 0 { self.nothing_happened(looked) } else { self.happened(&tables) },
            strokes: if count == 0 { Vec::new() } else { self.strokes(&tables, since) },
            loose,
        }
    }

    fn open_tables(&self) -> impl Iterator<Item = &Table> {
        self.dataset().tables().filter(|home| self.opens(home.def.id))
    }

    fn doings(&self, home: &Table, since: Timestamp) -> Doings {
        let table = home.def.id;
        let others = |who: Actor| self.me().is_none_or(|me| who != Actor::Person(me));
        let mut doings = Doings::default();
        for record in home.records() {
            let Some(meta) = home.meta(record).filter(|meta| meta.changed_at > since) else { continue };
            let came = meta.created_at > since;
            if !others(if came { meta.created_by } else { meta.changed_by }) || !self.sees(table, record) {
                continue;
            }
            if came {
                // Whoever may not read when something came, or changed, is not told that it did.
                let Some(at) = self.meta_of(table, record, &Kind::CreatedAt).map(|meta| meta.created_at) else { continue };
                doings.came.push((record, at, self.meta_of(table, record, &Kind::CreatedBy).map(|meta| meta.created_by)));
            } else {
                let Some(at) = self.meta_of(table, record, &Kind::ChangedAt).map(|meta| meta.changed_at) else { continue };
                doings.changed.push((record, at, self.meta_of(table, record, &Kind::ChangedBy).map(|meta| meta.changed_by)));
            }
        }
        doings
    }

    /// When and by whom something was last changed that is in sight.
    fn last_change(&self) -> Option<&Meta> {
        let seen = |home: &Table, record: RecordId| {
            let meta = self.meta_of(home.def.id, record, &Kind::ChangedBy)?;
            self.meta_of(home.def.id, record, &Kind::ChangedAt).map(|_| meta.changed_at)
        };
        let last = self.open_tables().flat_map(|home| home.records().filter_map(move |record| Some((seen(home, record)?, home, record))));
        let (_, home, record) = last.max_by_key(|(at, ..)| *at)?;
        home.meta(record)
    }

    fn strokes(&self, tables: &[(&Table, Doings)], since: Timestamp) -> Vec<u32> {
        let mut strokes = vec![0_u32; STROKES.into()];
        let (from, until) = (since.as_second(), self.clock().now.as_second());
        let whole = until.saturating_sub(from).max(1);
        for (_, at, _) in tables.iter().flat_map(|(_, doings)| doings.came.iter().chain(&doings.changed)) {
            let gone = at.as_second().saturating_sub(from).clamp(0, whole);
            let place = gone.saturating_mul(STROKES.into()).checked_div(whole).and_then(|place| usize::try_from(place).ok()).unwrap_or(0);
            if let Some(stroke) = strokes.get_mut(place.min(usize::from(STROKES) - 1)) {
                *stroke = stroke.saturating_add(1);
            }
        }
        strokes
    }
}
