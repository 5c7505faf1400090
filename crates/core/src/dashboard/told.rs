//! A tile as its reader sees it.

use super::{Statement, StatementTold, TileShows, TileView};
use crate::{
    access::Lens,
    id::RecordId,
    schema::within_sentence,
    sentence::{Phrase, Sentence, capital},
    view::{Bucket, Crossed, Query, Shape, Window},
};

/// What a tile tells somebody.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct TileTold {
    /// What it shows, in one sentence.
    pub sentence: Vec<Phrase>,
    /// Why it shows nothing. What that would be is not told.
    pub refused: String,
    pub statement: Option<StatementTold>,
    pub crossed: Option<Crossed>,
    /// Of a list, the first records, and the view that they are told by.
    pub records: Vec<RecordId>,
    pub query: Option<Query>,
    /// How many there are, in words: *71 faults*.
    pub counted: String,
}

/// What somebody is told to whom a tracker, or a table of it, is not open; also where there is none any more.
pub(super) const CLOSED: &str = "This is of something that is not open to you.";

impl TileTold {
    /// What is told where the tracker is not open.
    pub fn closed() -> Self {
        Self { refused: CLOSED.to_owned(), ..Self::default() }
    }
}

impl TileShows {
    /// What it tells somebody of the tracker that it looks into.
    pub fn told(&self, lens: &Lens<'_>) -> TileTold {
        match self {
            TileShows::Text { .. } => TileTold::default(),
            TileShows::Statement(statement) => {
                TileTold { statement: Some(statement.told(lens)), sentence: statement.sentence(lens), ..TileTold::default() }
            }
            TileShows::View(view) => view.told(lens),
        }
    }
}

impl Statement {
    /// *Path upkeep, this month beside the one before.*
    fn sentence(&self, lens: &Lens<'_>) -> Vec<Phrase> {
        let mut s = Sentence::default();
        s.plain(format!("{}, ", lens.dataset().tracker.name));
        s.edit(self.run.map_or("as it stands now".to_owned(), |run| format!("this {} beside the one before", run_word(run))), "/run");
        s.plain(".");
        s.phrases()
    }
}

fn run_word(run: Bucket) -> &'static str {
    match run {
        Bucket::Value => "day",
        Bucket::Week => "week",
        Bucket::Month => "month",
        Bucket::Quarter => "quarter",
        Bucket::Year => "year",
    }
}

impl TileView {
    fn told(&self, lens: &Lens<'_>) -> TileTold {
        if lens.dataset().table(self.table).is_none() || !lens.opens(self.table) {
            return TileTold::closed();
        }
        let refused = |faults: crate::fault::Faults| TileTold {
            refused: faults.0.into_iter().next().map_or_else(|| CLOSED.to_owned(), |fault| fault.message),
            ..TileTold::default()
        };
        let query = match self.query.asked_by(lens, self.table) {
            Ok(query) => query,
            Err(faults) => return refused(faults),
        };
        if query.fields.is_empty() && query.shape.is_plain() {
            return TileTold::closed();
        }
        let rows = if matches!(query.shape, Shape::CrossTab(_)) { 0 } else { usize::from(self.most) };
        let outcome = query.run(lens, self.table, &Window { rows: 0..rows, ..Window::default() });
        let crossed = match &query.shape {
            Shape::CrossTab(_) => match query.crossed(lens, self.table) {
                Ok(crossed) => Some(crossed),
                Err(faults) => return refused(faults),
            },
            _ => None,
        };
        TileTold {
            sentence: self.sentence(&query, lens),
            counted: outcome.counted,
            records: outcome.window,
            crossed,
            query: Some(query),
            ..TileTold::default()
        }
    }

    /// The view's sentence as a title: what it is drawn as is seen.
    fn sentence(&self, query: &Query, lens: &Lens<'_>) -> Vec<Phrase> {
        let mut s = Sentence::default();
        let many = lens.dataset().table(self.table).map(|home| home.def.many()).unwrap_or_default();
        if query.condition.is_nothing() {
            s.plain(capital(&many));
        } else {
            s.plain(format!("{} where ", capital(&many)));
            crate::view::condition_phrases(&mut s, &query.condition, lens, self.table, "/condition");
        }
        if let Shape::CrossTab(tab) = &query.shape {
            tab.say(&mut s, lens, self.table, !query.tallies.is_empty());
            query.say_figures(&mut s, lens, self.table);
            s.plain(".");
            return s.phrases();
        }
        for (place, sort) in query.sorts.iter().enumerate() {
            s.plain(if place == 0 { ", " } else { ", then " });
            s.edit(crate::view::sort_words(lens, self.table, *sort), format!("/sorts/{place}"));
        }
        s.plain(", the first ");
        s.edit(lens.clock().customs().count_text(usize::from(self.most)), "/most");
        let shown: Vec<String> = query
            .fields
            .iter()
            .filter_map(|shown| Some(within_sentence(&lens.dataset().table(self.table)?.def.field(shown.field)?.name)))
            .take(4)
            .collect();
        s.plain(", with ");
        s.edit(crate::value::list_text(&shown.iter().map(String::as_str).collect::<Vec<_>>(), "and"), "/fields");
        s.plain(".");
        s.phrases()
    }
}
