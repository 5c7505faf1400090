//! Records told in lines, as one would tell them over the telephone: what each piece was taken for, and what has two readings.
//! Nothing is made by it.

use super::{
    Becomes, ColumnPlan, DateOrder, Heading, ImportInto, Plan, Raw, Sheet, Unmatched, guess::SheetGuess, heading::heading_of, is_in_numbers,
};
use crate::{
    access::Lens,
    id::TableId,
    schema::{Kind, TEXT_LIMIT, TableNames, within_sentence},
    sentence::{capital, plural},
    value::{Customs, DateReading, fold, list_text, read_day},
};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, HashSet};

/// Most text that is told at once, in bytes; more comes as a file.
pub const TOLD_LIMIT: usize = 200_000;
/// Lines that are shown under what their pieces were taken for.
const SHOWN: usize = 6;
/// Different values that could still be one of a few.
const FEW: usize = 6;

/// What somebody says of a piece, over what it was taken for.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Said {
    /// Its place in the line, from 0.
    pub column: usize,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub name: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub becomes: Option<Becomes>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub dates: Option<DateOrder>,
}

/// What was told, and what it was taken for.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Told {
    pub plan: Plan,
    pub pieces: Vec<ToldPiece>,
    /// The first lines, piece by piece.
    pub lines: Vec<Vec<String>>,
    /// Lines that become records.
    pub records: usize,
    pub questions: Vec<ToldQuestion>,
    /// What one would have, as sentences.
    pub says: Vec<String>,
    /// The lines are no records but what is noted about each: the names of its fields.
    #[serde(default)]
    pub names: Vec<String>,
}

/// What stands at one place of each line.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ToldPiece {
    pub column: usize,
    /// What the field is called.
    pub name: String,
    /// What it was taken for: *a date*, *one of oak, larch*.
    pub words: String,
    /// The letter of the question about it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub asks: Option<String>,
    /// It goes into a field that is there, so that its name is given.
    pub known: bool,
}

/// What has two readings.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ToldQuestion {
    pub letter: String,
    pub words: String,
    /// The first holds while nothing is said.
    pub answers: Vec<ToldAnswer>,
}

/// One way to read it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ToldAnswer {
    pub words: String,
    /// What is said of a piece by it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub said: Option<Said>,
    /// Of lines of one piece: whether they are names.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub names: Option<bool>,
    /// It holds now.
    pub holds: bool,
}

/// Lines as a sheet: their pieces parted by what parts them in most lines, a tab, a semicolon or a comma.
pub fn told(text: &str) -> Sheet {
    let lines: Vec<(usize, &str)> = text.lines().enumerate().filter(|(_, line)| !line.trim().is_empty()).collect();
    let most = |part: char| lines.iter().filter(|(_, line)| line.contains(part)).count() * 2 >= lines.len().max(1);
    let part = ['\t', ';'].into_iter().find(|part| most(*part)).unwrap_or(',');
    let row = |line: &str| pieces(line, part).into_iter().map(|piece| Raw::Text(piece.into())).collect();
    Sheet {
        name: "what you wrote".into(),
        lines: lines.iter().map(|(at, _)| u32::try_from(at + 1).unwrap_or(u32::MAX)).collect(),
        rows: lines.iter().map(|(_, line)| row(line)).collect(),
        ..Sheet::default()
    }
}

/// The pieces of a line. A comma between two digits belongs to its number, and what stands in quotes is one piece.
fn pieces(line: &str, part: char) -> Vec<String> {
    let letters: Vec<char> = line.chars().collect();
    let digit = |at: Option<usize>| at.and_then(|at| letters.get(at)).is_some_and(char::is_ascii_digit);
    let (mut all, mut piece, mut quoted) = (Vec::new(), String::new(), false);
    for (at, letter) in letters.iter().enumerate() {
        let within_number = part == ',' && digit(at.checked_sub(1)) && digit(Some(at + 1));
        if *letter == '"' && (quoted || piece.trim().is_empty()) {
            quoted = !quoted;
        } else if *letter == part && !quoted && !within_number {
            all.push(std::mem::take(&mut piece));
        } else {
            piece.push(*letter);
        }
    }
    all.push(piece);
    let mut all: Vec<String> = all.into_iter().map(|piece| piece.trim().to_owned()).collect();
    // A line may end with what parts its pieces.
    if all.len() > 1 && all.last().is_some_and(String::is_empty) {
        all.pop();
    }
    all.truncate(super::COLUMNS_LIMIT);
    all
}

impl Lens<'_> {
    /// What lines tell: of a table that is there, or of a new one, of whose records one is called so.
    /// `names`: whether lines of one piece are names of fields, where that was said.
    pub fn tell(&self, sheet: &Sheet, one: &str, into: Option<TableId>, said: &[Said], names: Option<bool>) -> Told {
        let many = capital(&plural(one.trim()));
        let alone = into.is_none() && sheet.rows.len() > 1 && sheet.width() == 1;
        let as_names =
            alone && names.unwrap_or_else(|| sheet.rows.iter().flatten().all(|cell| !cell.words().contains(|c: char| c.is_ascii_digit())));
        if as_names {
            return named(sheet, one.trim(), &many);
        }
        let target = match into {
            Some(table) => ImportInto::Table { table, key: None },
            None => ImportInto::New { name: many.clone(), one: one.trim().to_owned() },
        };
        // One line is a record, whatever stands in it.
        let heading = if sheet.rows.len() > 1 && !alone { heading_of(sheet) } else { Heading::default() };
        let mut guess = self.guess(sheet, "Records", Some(heading), Some(target));
        if heading.rows == 0 {
            match into {
                Some(table) => self.in_order(table, sheet, &mut guess),
                None => self.name_pieces(&mut guess.plan),
            }
        }
        let mut questions = self.questions(sheet, &mut guess, said);
        if alone {
            questions.push((usize::MAX, names_or_records(sheet.rows.len(), &many, false)));
        }
        let pieces = guess.plan.columns.iter().map(|plan| self.piece(plan, &questions, &guess.plan, sheet)).collect();
        let shown = guess.plan.records(sheet).into_iter().take(SHOWN);
        let line = |row: usize| guess.plan.columns.iter().map(|plan| sheet.cell(row, plan.column).words()).collect();
        Told {
            pieces,
            lines: shown.map(line).collect(),
            records: guess.rows,
            says: self.would_have(sheet, &guess.plan, guess.rows),
            questions: questions.into_iter().map(|(_, question)| question).collect(),
            plan: guess.plan,
            names: Vec::new(),
        }
    }

    /// Lines without names go into the fields of a table in their order, each into the next that it fits.
    fn in_order(&self, table: TableId, sheet: &Sheet, guess: &mut SheetGuess) {
        let Some(home) = self.dataset().table(table) else { return };
        let mut fields = home.def.fields.iter().filter(|f| self.writes(table, f.id) && !matches!(f.kind, Kind::Files)).peekable();
        let rows = guess.plan.records(sheet);
        for plan in &mut guess.plan.columns {
            let fits = |kind: &Kind| {
                let reads = |row: &usize| {
                    let cell = sheet.cell(*row, plan.column);
                    cell.is_empty() || self.may_read(plan, cell, kind)
                };
                rows.iter().take(SHOWN).all(reads)
            };
            let found = fields.by_ref().find(|field| fits(&field.kind));
            plan.becomes = found.map_or(Becomes::Nothing, |f| Becomes::Existing { field: f.id, unmatched: Unmatched::Flag });
            plan.name = found.map_or_else(|| plan.name.clone(), |f| f.name.clone());
        }
    }

    /// Whether a piece can stand in a field of this kind; names of options and of records are looked for when they are taken.
    fn may_read(&self, plan: &ColumnPlan, cell: &Raw, kind: &Kind) -> bool {
        match kind {
            Kind::Choice { options, .. } => options.iter().any(|option| fold(&option.name) == fold(cell.words().trim())),
            Kind::Choices { .. } | Kind::Link(_) => true,
            kind => {
                let locale = self.dataset().tracker.locale;
                super::ColumnReader::new(plan, locale, &self.dataset().people, self.clock()).value(cell, kind).is_ok()
            }
        }
    }

    /// A piece without a name is called by what it is.
    fn name_pieces(&self, plan: &mut Plan) {
        let mut taken: HashSet<String> = HashSet::new();
        for (place, column) in plan.columns.iter_mut().enumerate() {
            let name = self.name_of_piece(place, &column.becomes);
            let free =
                std::iter::once(name.clone()).chain((2..).map(|n| format!("{name} {n}"))).find(|n| taken.insert(fold(n).into_owned()));
            column.name = free.unwrap_or(name);
        }
    }

    fn name_of_piece(&self, place: usize, becomes: &Becomes) -> String {
        let name = match becomes {
            Becomes::Link { to, .. } => return self.dataset().table(*to).map_or_else(|| "Link".to_owned(), |t| capital(&t.def.one)),
            Becomes::Field { kind: Kind::Text { .. } } if place == 0 => "Name",
            Becomes::Field { kind } => match kind {
                Kind::Text { .. } => "Text",
                Kind::LongText => "Notes",
                Kind::Money { .. } => "Cost",
                Kind::YesNo => "Yes or no",
                Kind::Choice { .. } | Kind::Choices { .. } => "Sort",
                Kind::Duration => "How long",
                other => return capital(other.name()),
            },
            _ => "Text",
        };
        name.to_owned()
    }

    /// What has two readings is asked; what was said of a piece holds.
    fn questions(&self, sheet: &Sheet, guess: &mut SheetGuess, said: &[Said]) -> Vec<(usize, ToldQuestion)> {
        let rows = guess.plan.records(sheet);
        let mut asked = Vec::new();
        for place in 0..guess.plan.columns.len() {
            let plan = &mut guess.plan.columns[place];
            let mine = said.iter().find(|one| one.column == plan.column);
            if let Some(name) = mine.and_then(|one| one.name.as_ref()).filter(|name| !name.trim().is_empty()) {
                plan.name = name.trim().to_owned();
            }
            let words: Vec<String> =
                rows.iter().map(|row| sheet.cell(*row, plan.column).words()).filter(|w| !w.trim().is_empty()).collect();
            let question = if guess.columns[place].asks_order { self.order(plan, &words) } else { repeated(plan, place, &words) };
            let mut becomes = mine.and_then(|one| one.becomes.clone());
            let mut dates = mine.and_then(|one| one.dates);
            if let Some((_, answers)) = &question {
                let holds = |answer: &&ToldAnswer| {
                    becomes.as_ref().is_some_and(|b| answer.sort() == sort(b)) || dates.is_some() && answer.dates() == dates
                };
                let first = answers.iter().find(holds).or(answers.first());
                becomes = first.and_then(|answer| answer.said.as_ref()?.becomes.clone());
                dates = first.and_then(ToldAnswer::dates);
            }
            plan.becomes = match becomes {
                // It is called by what the piece is called now.
                Some(Becomes::Table { .. }) => own_table(&plan.name),
                Some(becomes) => becomes,
                None => plan.becomes.clone(),
            };
            plan.dates = dates.or(plan.dates);
            let Some((words, mut answers)) = question else { continue };
            for answer in &mut answers {
                answer.holds = match answer.dates() {
                    Some(order) => plan.dates == Some(order),
                    None => answer.sort() == sort(&plan.becomes),
                };
            }
            let letter = char::from(b'a' + u8::try_from(asked.len() % 26).unwrap_or(0)).to_string();
            asked.push((place, ToldQuestion { letter, words, answers }));
        }
        asked
    }

    /// *Is 3.6.2019 3 June or 6 March?*
    fn order(&self, plan: &ColumnPlan, words: &[String]) -> Option<(String, Vec<ToldAnswer>)> {
        let sample = words.iter().find(|word| is_in_numbers(word))?.trim().to_owned();
        let answer = |order: DateOrder| {
            let day = read_day(&sample, DateReading { order, years_from: plan.years_from, today: None })?;
            let said = Said { column: plan.column, name: None, becomes: None, dates: Some(order) };
            Some(ToldAnswer::of(day.strftime("%-d %B %Y").to_string(), said))
        };
        let mut answers: Vec<ToldAnswer> = Vec::new();
        for read in [DateOrder::Day, DateOrder::Month, DateOrder::Year].into_iter().filter_map(answer) {
            if answers.iter().all(|other| other.words != read.words) {
                answers.push(read);
            }
        }
        let read: Vec<&str> = answers.iter().map(|a| a.words.as_str()).collect();
        Some((format!("Is {sample} {}?", list_text(&read, "or")), answers))
    }

    fn piece(&self, plan: &ColumnPlan, questions: &[(usize, ToldQuestion)], whole: &Plan, sheet: &Sheet) -> ToldPiece {
        let place = whole.columns.iter().position(|c| c.column == plan.column);
        let asks = questions.iter().find(|(at, _)| Some(*at) == place).map(|(_, question)| question.letter.clone());
        let words: Vec<String> = whole.records(sheet).into_iter().map(|row| sheet.cell(row, plan.column).words()).collect();
        let known = matches!(plan.becomes, Becomes::Existing { .. });
        ToldPiece { column: plan.column, name: plan.name.clone(), words: self.taken_for(plan, whole, &words), asks, known }
    }

    fn taken_for(&self, plan: &ColumnPlan, whole: &Plan, words: &[String]) -> String {
        let table_name = |id: TableId| self.dataset().table(id).map_or_else(String::new, |t| t.def.name.clone());
        let kind = match &plan.becomes {
            Becomes::Nothing => return "no field is left for it".into(),
            Becomes::Link { to, .. } => return format!("a link to {}", table_name(*to)),
            Becomes::Table { name, .. } => return format!("a link to the new table {name}"),
            Becomes::Existing { field, .. } => match &whole.into {
                ImportInto::Table { table, .. } => self.dataset().table(*table).and_then(|t| t.def.field(*field)).map(|f| f.kind.clone()),
                ImportInto::New { .. } => None,
            },
            Becomes::Field { kind } => Some(kind.clone()),
        };
        match kind {
            Some(Kind::Choice { .. } | Kind::Choices { .. }) => format!("one of {}", list_text(&different(words, FEW), "and")),
            Some(Kind::Money { currency }) => format!("money, in {currency}"),
            Some(Kind::Person) => "a person of the team".into(),
            Some(kind) => kind.name().into(),
            None => String::new(),
        }
    }

    /// *3 waymark posts with 6 fields, known by their post.*
    fn would_have(&self, sheet: &Sheet, plan: &Plan, records: usize) -> Vec<String> {
        let (one, many) = match &plan.into {
            ImportInto::New { one, name } => (one.clone(), within_sentence(name)),
            ImportInto::Table { table, .. } => match self.dataset().table(*table) {
                Some(home) => (home.def.one.clone(), home.def.many()),
                None => return Vec::new(),
            },
        };
        let used: Vec<&ColumnPlan> = plan.columns.iter().filter(|c| c.becomes != Becomes::Nothing).collect();
        let mut says = self.clock().customs().count_words(records, &one, &many);
        if matches!(plan.into, ImportInto::New { .. }) {
            says += &format!(" with {}", self.clock().customs().count_words(used.len(), "field", "fields"));
        }
        let mut all = vec![says + "."];
        let people = &self.dataset().people;
        let is_person = |c: &&&ColumnPlan| matches!(&c.becomes, Becomes::Field { kind: Kind::Person });
        let named: BTreeMap<String, bool> = used
            .iter()
            .filter(is_person)
            .flat_map(|c| plan.records(sheet).into_iter().map(|row| sheet.cell(row, c.column).words()))
            .filter_map(|words| people.iter().find(|p| fold(&p.name) == fold(words.trim())))
            .map(|person| (person.name.clone(), self.dataset().roles_of(person.id).next().is_some()))
            .collect();
        let outside: Vec<&str> = named.iter().filter(|(_, inside)| !**inside).map(|(name, _)| name.as_str()).collect();
        if !outside.is_empty() {
            let does = if outside.len() == 1 { "is named in it but does" } else { "are named in it but do" };
            all.push(format!("{} {does} not see it until you open it to them.", list_text(&outside, "and")));
        }
        all
    }
}

impl ToldAnswer {
    fn of(words: String, said: Said) -> Self {
        Self { words, said: Some(said), names: None, holds: false }
    }

    fn dates(&self) -> Option<DateOrder> {
        self.said.as_ref()?.dates
    }

    /// Which of the sorts of answers about a piece it is.
    fn sort(&self) -> u8 {
        self.said.as_ref().and_then(|said| said.becomes.as_ref()).map_or(0, sort)
    }
}

/// Lines that are the names of what is noted about each.
fn named(sheet: &Sheet, one: &str, many: &str) -> Told {
    let names: Vec<String> = different(&sheet.rows.iter().flatten().map(Raw::words).collect::<Vec<_>>(), super::COLUMNS_LIMIT);
    let piece = |(column, name): (usize, &String)| ToldPiece { column, name: name.clone(), words: "text".into(), asks: None, known: true };
    Told {
        plan: Plan {
            heading: Heading::default(),
            into: ImportInto::New { name: many.to_owned(), one: one.to_owned() },
            columns: Vec::new(),
            without: Vec::new(),
        },
        pieces: names.iter().enumerate().map(piece).collect(),
        lines: Vec::new(),
        records: 0,
        questions: vec![names_or_records(sheet.rows.len(), many, true)],
        says: vec![format!(
            "{}, each with {}, and none of them yet.",
            within_sentence(many),
            Customs::default().count_words(names.len(), "field", "fields")
        )],
        names,
    }
}

fn names_or_records(lines: usize, many: &str, names: bool) -> ToldQuestion {
    let many = within_sentence(many);
    let answer = |words: String, means| ToldAnswer { words, said: None, names: Some(means), holds: names == means };
    ToldQuestion {
        letter: "a".into(),
        words: "Is a line something you note about each, or one of them?".into(),
        answers: vec![answer(format!("what I note: {lines} fields"), true), answer(format!("{lines} {many}"), false)],
    }
}

/// What repeats can be a word, one of a few, or a thing with facts of its own.
fn repeated(plan: &ColumnPlan, place: usize, words: &[String]) -> Option<(String, Vec<ToldAnswer>)> {
    let is_text = |b: &Becomes| matches!(b, Becomes::Field { kind: Kind::Text { .. } | Kind::Choice { .. } } | Becomes::Table { .. });
    let values = different(words, words.len());
    if place == 0 || !is_text(&plan.becomes) || values.len() == words.len() {
        return None;
    }
    let said = |becomes| Said { column: plan.column, name: None, becomes: Some(becomes), dates: None };
    let answer = |words: String, becomes| ToldAnswer::of(words, said(becomes));
    let text = answer("no, it is only a word".into(), Becomes::Field { kind: Kind::Text { limit: TEXT_LIMIT } });
    let linked = answer("yes, they become a table of their own".into(), own_table(&plan.name));
    let mut answers = vec![text, linked];
    if (2..=FEW).contains(&values.len()) {
        let few = answer(
            format!("no, it is one of {}", list_text(&values, "and")),
            Becomes::Field { kind: Kind::Choice { options: Vec::new(), on: None } },
        );
        // Where words repeat so often that they were taken for a choice, they are one.
        let at = if matches!(plan.becomes, Becomes::Field { kind: Kind::Choice { .. } }) { 0 } else { 1 };
        answers.insert(at, few);
    }
    let again = words.iter().max_by_key(|word| words.iter().filter(|other| other == word).count())?;
    Some((format!("“{}” comes again: has it facts of its own?", again.trim()), answers))
}

/// The table of what stands in a piece of this name.
fn own_table(name: &str) -> Becomes {
    let TableNames { name, one } = TableNames::of(name);
    Becomes::Table { name, one, single: true }
}

/// The different ones, in the order in which they come, as far as they are wanted.
fn different(words: &[String], most: usize) -> Vec<String> {
    let mut known = HashSet::new();
    let new = |word: &&String| !word.trim().is_empty() && known.insert(fold(word.trim()).into_owned());
    words.iter().filter(new).map(|word| word.trim().to_owned()).take(most).collect()
}

/// Which of the sorts of answers it is.
fn sort(becomes: &Becomes) -> u8 {
    match becomes {
        Becomes::Field { kind: Kind::Text { .. } } => 1,
        Becomes::Field { kind: Kind::Choice { .. } } => 2,
        Becomes::Table { .. } => 3,
        _ => 0,
    }
}
