//! A tile as its reader sees it.

use super::{BoardCondition, BoardDay, Dots, Draws, Statement, StatementTold, TileShows, TileView, only::both};
use crate::{
    access::Lens,
    id::RecordId,
    schema::within_sentence,
    sentence::{Phrase, Sentence, capital},
    view::{Bucket, CrossLead, Crossed, Query, Shape, Window},
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
    pub dots: Option<Dots>,
    /// Of a calendar, the days that come.
    pub days: Option<Vec<BoardDay>>,
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
    /// What it tells somebody of the tracker that it looks into; `only`: what holds of the whole page, and what they narrow it to.
    pub fn told(&self, lens: &Lens<'_>, only: &[BoardCondition]) -> TileTold {
        match self {
            TileShows::Text { .. } => TileTold::default(),
            TileShows::Statement(statement) => {
                TileTold { statement: Some(statement.told(lens, only)), sentence: statement.sentence(lens), ..TileTold::default() }
            }
            TileShows::View(view) => view.told(lens, only),
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
    fn told(&self, lens: &Lens<'_>, only: &[BoardCondition]) -> TileTold {
        if lens.dataset().table(self.table).is_none() || !lens.opens(self.table) {
            return TileTold::closed();
        }
        let refused = |faults: crate::fault::Faults| TileTold {
            refused: faults.0.into_iter().next().map_or_else(|| CLOSED.to_owned(), |fault| fault.message),
            ..TileTold::default()
        };
        // Its title is its own: what holds of the page stands above.
        let own = match self.query.asked_by(lens, self.table) {
            Ok(query) => query,
            Err(faults) => return refused(faults),
        };
        let condition = both(only, self.tracker, self.table, &self.query.condition);
        let query = match (Query { condition, ..self.query.clone() }).asked_by(lens, self.table) {
            Ok(query) => query,
            Err(faults) => return refused(faults),
        };
        if query.fields.is_empty() && query.shape.is_plain() {
            return TileTold::closed();
        }
        let rows = match &query.shape {
            Shape::CrossTab(_) | Shape::Calendar(_) => 0,
            _ if self.draws == Draws::Dots => usize::MAX,
            _ => usize::from(self.most),
        };
        let outcome = query.run(lens, self.table, &Window { rows: 0..rows, ..Window::default() });
        let crossed = match &query.shape {
            Shape::CrossTab(_) => match query.crossed(lens, self.table) {
                Ok(crossed) => Some(crossed),
                Err(faults) => return refused(faults),
            },
            _ => None,
        };
        let sentence = self.sentence(&own, lens);
        if let Some(why) = crossed.as_ref().and_then(|crossed| self.no_parts(&query, crossed)) {
            return TileTold { sentence, refused: why.to_owned(), ..TileTold::default() };
        }
        if self.draws == Draws::Dots && crossed.is_none() {
            return match query.dots(lens, self.table, &outcome.window) {
                Ok(dots) => TileTold { sentence, counted: outcome.counted, dots: Some(dots), ..TileTold::default() },
                Err(why) => TileTold { sentence, refused: why, ..TileTold::default() },
            };
        }
        let coming = matches!(query.shape, Shape::Calendar(_)).then(|| query.coming(lens, self.table, usize::from(self.most)));
        TileTold {
            sentence,
            counted: outcome.counted,
            records: outcome.window,
            crossed,
            days: coming,
            query: Some(query),
            ..TileTold::default()
        }
    }

    /// Why its figures are no parts of a whole, where they are to be drawn as such.
    fn no_parts(&self, query: &Query, crossed: &Crossed) -> Option<&'static str> {
        if self.draws != Draws::Parts {
            return None;
        }
        let Shape::CrossTab(tab) = &query.shape else { return None };
        if tab.down.len() != 1 || !tab.across.is_empty() {
            return Some("Parts of a whole are told by one field down and nothing across. Take away what else there is.");
        }
        let sums = tab.leads == CrossLead::Count || query.tallies.first().is_none_or(|tally| tally.figure.adds_up());
        if !sums {
            return Some("Only what adds up has parts: choose how many there are, or a sum.");
        }
        let below =
            crossed.cells.iter().flatten().flatten().any(|cell| cell.lead.is_some_and(|lead| lead.is_sign_negative() && !lead.is_zero()));
        below.then_some("Some of these figures are below nought, and nothing has such parts. Draw them as bars.")
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
            tab.say(&mut s, lens, self.table, !query.tallies.is_empty(), "");
            query.say_figures(&mut s, lens, self.table);
            s.plain(".");
            return s.phrases();
        }
        if let Shape::Calendar(_) = &query.shape {
            s.plain(", the next ");
            s.edit(lens.clock().customs().count_text(usize::from(self.most)), "/most");
            s.plain(" on their days from today on.");
            return s.phrases();
        }
        if self.draws == Draws::Dots {
            s.plain(", a dot for each.");
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
