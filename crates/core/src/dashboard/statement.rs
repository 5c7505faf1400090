//! A statement worked out: each line now, in the run before, and what changed between.

use super::{BoardCondition, Line, LineOf, LineRecords, LineSign, Statement, only::both};
use crate::{
    access::Lens,
    condition::{Check, Comparison, Condition, Quantity, Test, When, days_between},
    figure::Figure,
    id::{FieldId, TableId},
    schema::Kind,
    value::plus_days,
    view::{Bucket, Query},
};
use jiff::civil::Date;
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};

/// A statement worked out for somebody.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct StatementTold {
    /// *this month*, *last month*; empty where nothing is told beside.
    pub heads: Vec<String>,
    pub lines: Vec<StatementLine>,
}

/// A line of a statement, worked out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct StatementLine {
    pub words: String,
    /// *+*, *−*, *=*, or nothing.
    pub sign: String,
    pub now: String,
    /// In the run before; empty where there is none.
    pub before: String,
    /// *31 more*, *8 points less*, *the same*.
    pub change: String,
    /// A total: a rule stands above it.
    pub total: bool,
    /// Where it has a target: *80 h wanted, 12 to go*.
    pub wanted: String,
    /// How much of its target it has come to, from 0; nothing: it has none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reached: Option<Decimal>,
    /// Why it tells nothing.
    pub refused: String,
}

/// A figure on its way: how it is shown, now and in the run before.
#[derive(Clone)]
struct Figured {
    kind: Kind,
    now: Option<Decimal>,
    before: Option<Decimal>,
    sign: LineSign,
}

/// From which to which day, both included.
type Days = (Date, Date);

impl Statement {
    /// What it tells somebody. What they may not read, or is not there any more, says so in its line.
    pub fn told(&self, lens: &Lens<'_>, only: &[BoardCondition]) -> StatementTold {
        let runs = self.run.map(|run| runs(run, lens.clock().today()));
        let mut figured: Vec<Option<Figured>> = Vec::new();
        let mut lines = Vec::new();
        for line in &self.lines {
            let of = self.figured(line, &figured, runs, lens, only);
            lines.push(told_line(line, of.as_ref().map_err(Clone::clone), lens));
            figured.push(of.ok());
        }
        let beside = lines.iter().any(|line| !line.before.is_empty());
        let heads = self.run.filter(|_| beside).map_or_else(Vec::new, |run| {
            let (this, last) = names(run);
            vec![this.to_owned(), last.to_owned()]
        });
        StatementTold { heads, lines }
    }

    fn figured(
        &self,
        line: &Line,
        above: &[Option<Figured>],
        runs: Option<(Days, Days)>,
        lens: &Lens<'_>,
        only: &[BoardCondition],
    ) -> Result<Figured, String> {
        let at =
            |place: usize| above.get(place).and_then(Option::as_ref).ok_or_else(|| "A line that it is made of tells nothing.".to_owned());
        match &line.of {
            LineOf::Records(of) => {
                let condition = both(only, self.tracker, of.table, &of.condition);
                records(&LineRecords { condition, ..of.clone() }, runs, lens)
            }
            LineOf::Total => total(above, &self.lines),
            LineOf::Share { part, whole } => {
                let (part, whole) = (at(*part)?, at(*whole)?);
                let share = |part: Option<Decimal>, whole: Option<Decimal>| part?.checked_div(whole?).map(|share| share.round_dp(2));
                let kind = Kind::Percent { decimals: 0 };
                Ok(Figured { kind, now: share(part.now, whole.now), before: share(part.before, whole.before), sign: LineSign::Beside })
            }
            LineOf::Per { what, each } => {
                let (what, each) = (at(*what)?, at(*each)?);
                let kind = match &what.kind {
                    Kind::Number { unit, .. } => Kind::Number { decimals: 1, unit: unit.clone() },
                    other => other.clone(),
                };
                let finest = kind.decimals();
                let per = |what: Option<Decimal>, each: Option<Decimal>| what?.checked_div(each?).map(|per| per.round_dp(finest));
                Ok(Figured { kind, now: per(what.now, each.now), before: per(what.before, each.before), sign: LineSign::Beside })
            }
        }
    }
}

/// What the lines since the last total make together.
fn total(above: &[Option<Figured>], lines: &[Line]) -> Result<Figured, String> {
    let last = lines.iter().take(above.len()).rposition(|line| line.of == LineOf::Total);
    let parts: Vec<&Figured> = above.iter().skip(last.unwrap_or(0)).flatten().filter(|one| one.sign != LineSign::Beside).collect();
    let Some(first) = parts.first() else { return Err("There is nothing above that it could be made of.".to_owned()) };
    let sum = |of: &dyn Fn(&Figured) -> Option<Decimal>| {
        parts.iter().try_fold(Decimal::ZERO, |sum, part| match part.sign {
            LineSign::Plus => sum.checked_add(of(part)?),
            LineSign::Minus => sum.checked_sub(of(part)?),
            LineSign::Beside => Some(sum),
        })
    };
    Ok(Figured { kind: first.kind.clone(), now: sum(&|part| part.now), before: sum(&|part| part.before), sign: LineSign::Plus })
}

fn records(of: &LineRecords, runs: Option<(Days, Days)>, lens: &Lens<'_>) -> Result<Figured, String> {
    let gone = || "This is not open to you, or not there any more.".to_owned();
    if lens.dataset().table(of.table).is_none() || !lens.opens(of.table) {
        return Err(gone());
    }
    let asked = |days: Option<Days>| {
        let condition = match of.day.zip(days) {
            Some((field, days)) => Condition::All(vec![of.condition.clone(), within(field, days)]),
            None => of.condition.clone(),
        };
        Query { condition, tallies: of.figure.into_iter().collect(), ..Query::default() }
    };
    let (this, last) = (of.day.and(runs).map(|(this, _)| this), of.day.and(runs).map(|(_, last)| last));
    let query = asked(this).asked_by(lens, of.table).map_err(|faults| faults.0.first().map_or_else(gone, |fault| fault.message.clone()))?;
    if of.figure.is_some() && query.tallies.is_empty() {
        return Err(gone());
    }
    let figure = |query: &Query| {
        let whole = query.found(lens, of.table, &[]).whole();
        match of.figure {
            Some(_) => whole.tallies.first().and_then(|figure| figure.value),
            None => Some(whole.matching.into()),
        }
    };
    let before = match last {
        Some(days) => figure(&asked(Some(days)).asked_by(lens, of.table).map_err(|_| gone())?),
        None => None,
    };
    Ok(Figured { kind: shown(of, lens), now: figure(&query), before, sign: of.sign })
}

/// How the figure of a line is shown.
fn shown(of: &LineRecords, lens: &Lens<'_>) -> Kind {
    let count = Kind::Number { decimals: 0, unit: String::new() };
    let Some(tally) = of.figure else { return count };
    let kind = lens.dataset().shown_kind(of.table, tally.field).and_then(|(_, kind)| tally.figure.shown(Some(kind.shows())));
    match (kind, tally.figure) {
        (Some(Kind::Number { decimals, unit }), Figure::Average | Figure::Median) => {
            Kind::Number { decimals: decimals.saturating_add(1), unit }
        }
        (kind, _) => kind.unwrap_or(count),
    }
}

/// Whether a day lies within a run.
fn within(field: FieldId, (first, last): Days) -> Condition {
    let test = |how, day| Condition::Test(Test { path: vec![field], of: Quantity::Any, check: Check::Day { how, than: When::Date(day) } });
    Condition::All(vec![test(Comparison::AtLeast, first), test(Comparison::AtMost, last)])
}

/// The run in which today lies, so far; and the one before, to the same day of it.
fn runs(run: Bucket, today: Date) -> (Days, Days) {
    let start = run.start(today);
    let yesterday = start.yesterday().unwrap_or(start);
    let (first, last) = run.days(yesterday);
    let same = plus_days(first, days_between(start, today).into()).unwrap_or(last);
    ((start, today), (first, same.min(last)))
}

fn names(run: Bucket) -> (&'static str, &'static str) {
    match run {
        Bucket::Value => ("today", "yesterday"),
        Bucket::Week => ("this week", "last, so far"),
        Bucket::Month => ("this month", "last, so far"),
        Bucket::Quarter => ("this quarter", "last, so far"),
        Bucket::Year => ("this year", "last, so far"),
    }
}

fn told_line(line: &Line, of: Result<&Figured, String>, lens: &Lens<'_>) -> StatementLine {
    let customs = lens.clock().customs();
    let sign = match &line.of {
        LineOf::Total => "=",
        LineOf::Records(LineRecords { sign: LineSign::Minus, .. }) => "−",
        LineOf::Records(LineRecords { sign: LineSign::Plus, .. }) => "+",
        LineOf::Records(_) | LineOf::Share { .. } | LineOf::Per { .. } => "",
    };
    let told = StatementLine {
        words: line.words.clone(),
        sign: sign.to_owned(),
        now: String::new(),
        before: String::new(),
        change: String::new(),
        total: line.of == LineOf::Total,
        wanted: String::new(),
        reached: None,
        refused: String::new(),
    };
    let figured = match of {
        Ok(figured) => figured,
        Err(refused) => return StatementLine { refused, ..told },
    };
    let text = |number: Decimal| figured.kind.number_words(number, 0, customs);
    let target = line.target.zip(figured.now);
    StatementLine {
        wanted: target.map(|(target, now)| wanted(now, target, &text)).unwrap_or_default(),
        reached: target.and_then(|(target, now)| now.checked_div(target)).map(|share| share.max(Decimal::ZERO).round_dp(3)),
        now: figured.now.map_or_else(|| "–".to_owned(), text),
        before: figured.before.map(text).unwrap_or_default(),
        change: figured.now.zip(figured.before).map(|(now, before)| change(now, before, &figured.kind, lens)).unwrap_or_default(),
        ..told
    }
}

/// *80 h wanted, 12 h to go*, *80 h wanted, reached*: in words, beside the length that shows it.
fn wanted(now: Decimal, target: Decimal, text: &dyn Fn(Decimal) -> String) -> String {
    let apart = target.checked_sub(now).unwrap_or_default();
    let rest = match apart {
        apart if apart.is_zero() => "reached".to_owned(),
        apart if apart.is_sign_negative() => format!("{} beyond", text(apart.abs())),
        apart => format!("{} to go", text(apart)),
    };
    format!("{} wanted, {rest}", text(target))
}

/// *31 more*, *8 points less*: in words, so that nobody guesses from an arrow whether more is better.
fn change(now: Decimal, before: Decimal, kind: &Kind, lens: &Lens<'_>) -> String {
    let customs = lens.clock().customs();
    let Some(apart) = now.checked_sub(before) else { return String::new() };
    let size = match kind {
        Kind::Percent { .. } => {
            let points = apart.abs().checked_mul(Decimal::ONE_HUNDRED).unwrap_or(Decimal::MAX).round();
            if points.is_zero() {
                return "the same".to_owned();
            }
            format!("{} {}", customs.number_text(points, 0, ""), if points == Decimal::ONE { "point" } else { "points" })
        }
        _ if apart.is_zero() => return "the same".to_owned(),
        kind => kind.number_words(apart.abs(), 0, customs),
    };
    format!("{size} {}", if apart > Decimal::ZERO { "more" } else { "less" })
}

impl LineRecords {
    /// How many records there are of a table.
    pub fn of(table: TableId) -> Self {
        Self { table, condition: Condition::default(), figure: None, day: None, sign: LineSign::Plus }
    }
}
