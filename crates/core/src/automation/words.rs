//! An automation as a short paragraph: a word that hangs before each clause, and what stands within a clause beneath it.

use super::{Automation, CallSends, Hour, Occasion, Pause, Recipient, Round, Step};
use crate::{
    access::Lens,
    bulk::{Alter, Altered},
    condition::{Condition, words_of_path},
    id::{AutomationId, FieldId, TableId},
    people::Channel,
    schema::{FieldDef, Kind, Same, within_sentence},
    sentence::{Phrase, Sentence, a_or_an},
    value::{Input, list_text},
    view::condition_phrases,
};
use serde::{Deserialize, Serialize};

/// One clause of it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Clause {
    /// *when*, *if*, *then*, *for each*, *wait*.
    pub word: String,
    /// The step that it is of, as a JSON pointer; nothing: it is no step.
    pub at: Option<String>,
    pub phrases: Vec<Phrase>,
    /// What is done within it; of alternatives, each.
    pub branches: Vec<Branch>,
}

/// Steps within a clause.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Branch {
    /// *if it was*, *otherwise*; empty where there is but one.
    pub word: String,
    /// The list of steps, as a JSON pointer.
    pub at: String,
    #[cfg_attr(feature = "openapi", schema(no_recursion))]
    pub clauses: Vec<Clause>,
}

const WEEKDAYS: [&str; 7] = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

impl Round {
    /// As it stands after *every*.
    pub fn words(&self) -> String {
        match self {
            Round::Daily => "day".into(),
            Round::WorkingDays => "working day".into(),
            Round::Weekly(days) => {
                let name = |day: &u8| WEEKDAYS.get(usize::from(*day).wrapping_sub(1)).copied();
                list_text(&days.iter().filter_map(name).collect::<Vec<_>>(), "and")
            }
            Round::Monthly(day) => format!("month on the {}", ordinal(*day)),
            Round::LastWorkingDay => "month on its last working day".into(),
        }
    }
}

fn ordinal(day: u8) -> String {
    let end = match (day % 10, day / 10) {
        (1, tens) if tens != 1 => "st",
        (2, tens) if tens != 1 => "nd",
        (3, tens) if tens != 1 => "rd",
        _ => "th",
    };
    format!("{day}{end}")
}

impl Occasion {
    /// As it stands after *when a fault*, or after *every*; what is named in it is written as *…*.
    pub fn words(&self) -> &'static str {
        match self {
            Occasion::Form(None) => "comes by any form",
            Occasion::Form(Some(_)) => "comes by the form “…”",
            Occasion::Added => "is added by one of the team",
            Occasion::Pressed => "has its button pressed",
            Occasion::Changed(_) => "has something changed",
            Occasion::Fits => "begins to fulfil the condition",
            Occasion::Date { .. } => "comes to a day of its own",
            Occasion::Every { .. } => "is due by a timetable",
            Occasion::Chosen => "is chosen, and this is run by hand",
            Occasion::Started => "is handed on by another automation",
        }
    }

    fn says(&self, lens: &Lens<'_>, table: TableId) -> String {
        let name = |field: &FieldId| field_words(lens, table, *field);
        match self {
            Occasion::Form(Some(form)) => {
                let title = lens.dataset().form(*form).map_or("a form that is gone", |f| &f.title);
                self.words().replace('…', title)
            }
            Occasion::Changed(fields) if !fields.is_empty() => {
                let names: Vec<String> = fields.iter().map(name).collect();
                format!("has {} changed", list_text(&names, "or"))
            }
            Occasion::Date { field, days, at, working } => {
                let name = name(field);
                let count = |days: u32| lens.clock().customs().count_words(days as usize, "day", "days");
                let day = match *days {
                    0 => format!("comes to its {name}"),
                    days if days > 0 => format!("is {} past its {name}", count(days.unsigned_abs())),
                    days => format!("is {} before its {name}", count(days.unsigned_abs())),
                };
                format!("{day}, at {}{}", at.words(), if *working { ", on a working day" } else { "" })
            }
            Occasion::Every { round, at } => timetable(round, *at),
            other => other.words().to_owned(),
        }
    }
}

fn timetable(round: &Round, at: Hour) -> String {
    format!("{} at {}", round.words(), at.words())
}

fn field_words(lens: &Lens<'_>, table: TableId, field: FieldId) -> String {
    let def = lens.dataset().table(table).and_then(|home| home.def.field(field));
    def.map_or_else(|| "a field that is gone".to_owned(), |def| within_sentence(&def.name))
}

fn one_of(lens: &Lens<'_>, table: TableId) -> String {
    lens.dataset().table(table).map_or_else(|| "record".to_owned(), |t| t.def.one.clone())
}

impl Automation {
    /// The clauses: when, if, then each step.
    pub fn to_sentences(&self, lens: &Lens<'_>) -> Vec<Clause> {
        let one = one_of(lens, self.table);
        let mut when = Sentence::default();
        let word = if matches!(self.when, Occasion::Every { .. }) { "every" } else { "when" };
        if word == "when" {
            when.plain(format!("{} ", a_or_an(&one)));
        }
        when.edit(self.when.says(lens, self.table), "/when");
        let mut condition = Sentence::default();
        if word == "every" {
            condition.plain(format!("each {one}"));
        }
        if !self.condition.is_nothing() {
            if word == "every" {
                condition.plain(" where ");
            }
            condition_phrases(&mut condition, &self.condition, lens, self.table, "/condition");
        }
        condition.offer("condition", "/condition");
        if self.has_before() && self.before.is_nothing() {
            condition.offer("what held before", "/before");
        }
        let before = (!self.before.is_nothing()).then(|| {
            let mut before = Sentence::default();
            before.plain("it held that ");
            condition_phrases(&mut before, &self.before, lens, self.table, "/before");
            before.offer("condition", "/before");
            before
        });
        let clause =
            |word: &str, sentence: Sentence| Clause { word: word.into(), at: None, phrases: sentence.phrases(), branches: Vec::new() };
        let mut clauses = vec![clause(word, when), clause(if word == "every" { "for" } else { "if" }, condition)];
        clauses.extend(before.map(|asked| clause("before", asked)));
        let about = About { table: self.table, own: self.table, found: false };
        clauses.extend(steps(&self.steps, lens, about, "/steps"));
        clauses
    }

    /// What its draft does otherwise, a sentence each.
    pub fn differs(&self, lens: &Lens<'_>) -> Vec<String> {
        fn lines(clauses: &[Clause], all: &mut Vec<String>) {
            for clause in clauses {
                let text = crate::sentence::as_text(&clause.phrases);
                if !text.is_empty() {
                    all.push(format!("{} {text}", clause.word));
                }
                clause.branches.iter().for_each(|branch| lines(&branch.clauses, all));
            }
        }
        let Some(draft) = self.drafted() else { return Vec::new() };
        let (mut now, mut then) = (Vec::new(), Vec::new());
        lines(&self.to_sentences(lens), &mut now);
        lines(&draft.to_sentences(lens), &mut then);
        let (gone, new): (Vec<&String>, Vec<&String>) =
            (now.iter().filter(|line| !then.contains(line)).collect(), then.iter().filter(|line| !now.contains(line)).collect());
        let count = gone.len().max(new.len());
        let told = |place: usize| match (gone.get(place), new.get(place)) {
            (Some(was), Some(is)) => format!("“{was}” becomes “{is}”."),
            (Some(was), None) => format!("No longer: {was}."),
            (None, Some(is)) => format!("New: {is}."),
            (None, None) => String::new(),
        };
        (0..count).map(told).collect()
    }

    /// What it does, in a few words: *mail to warden*, *changes status*.
    pub fn does(&self, lens: &Lens<'_>) -> String {
        let mut all: Vec<String> = Vec::new();
        super::every(&self.steps, self.table, "", &mut |step, table, _| {
            let words = match step {
                Step::Mail { to, .. } => {
                    let whom = match to {
                        Recipient::Field(path) => {
                            within_sentence(path.last().and_then(|f| lens.dataset().field(*f)).map_or("", |(_, f)| f.name.as_str()))
                        }
                        _ => to.words(lens, table),
                    };
                    format!("{} to {whom}", to.noun(lens, table))
                }
                Step::Set { along, alter } => {
                    let end = along.iter().try_fold(table, |at, link| Some(lens.dataset().table(at)?.link(*link)?.to)).unwrap_or(table);
                    let names: Vec<String> = alter.iter().map(|one| field_words(lens, end, one.field)).collect();
                    format!("changes {}", list_text(&names, "and"))
                }
                Step::Add { table, .. } => format!("adds {}", a_or_an(&one_of(lens, *table))),
                Step::Say { .. } => "says something about it".to_owned(),
                Step::Call { calls, .. } => format!("calls {}", calls.host().unwrap_or("a web address")),
                Step::Start { automation } => format!("starts {}", started_words(lens, *automation)),
                Step::Each { .. } | Step::If { .. } | Step::Wait { .. } | Step::Stop => return,
            };
            if !all.contains(&words) {
                all.push(words);
            }
        });
        all.join(", ")
    }

    /// For whom it acts, where it changes anything.
    pub fn authority(&self, lens: &Lens<'_>) -> Option<String> {
        self.writes().then(|| match self.acts_for {
            Some(person) => {
                let people = &lens.dataset().people;
                let left = if people.has_left(person) { ", who has left: it changes nothing" } else { "" };
                let sends = if self.hosts().is_empty() { "" } else { ", and sends elsewhere what they may see" };
                format!("It changes what {} may change{sends}{left}.", people.name(person))
            }
            None => "It acts for nobody, and changes nothing until somebody says again what it does.".to_owned(),
        })
    }
}

/// Whose fields a step speaks of: those of the record that the automation is about, or of others that it found.
#[derive(Clone, Copy)]
struct About {
    table: TableId,
    own: TableId,
    found: bool,
}

fn steps(list: &[Step], lens: &Lens<'_>, about: About, at: &str) -> Vec<Clause> {
    list.iter().enumerate().map(|(place, step)| step.clause(lens, about, &format!("{at}/{place}"))).collect()
}

impl Step {
    fn clause(&self, lens: &Lens<'_>, about: About, at: &str) -> Clause {
        let About { table, own, found } = about;
        let mut s = Sentence::default();
        let branch = |word: &str, list: &[Step], about: About, place: &str| {
            let at = format!("{at}/{}/{place}", self.word());
            Branch { word: word.into(), clauses: steps(list, lens, about, &at), at }
        };
        let mut branches = Vec::new();
        let word = match self {
            Step::Mail { to, subject, digest, reply, encloses, text, .. } => {
                let noun = to.noun(lens, table);
                s.plain(if *digest { format!("send one {noun} of all of them to ") } else { format!("send a {noun} to ") });
                s.edit(to.words(lens, table), format!("{at}/mail/to"));
                match text {
                    Some(id) => {
                        s.plain(", by the text ");
                        let name = lens.dataset().stored_text(*id).map_or("that is gone", |stored| stored.name.as_str());
                        s.edit(format!("“{name}”"), format!("{at}/mail/text"));
                    }
                    None => {
                        s.plain(", headed ");
                        s.edit(format!("“{}”", subject.to_text(lens.dataset(), table)), format!("{at}/mail/subject"));
                    }
                }
                if let Some(id) = encloses {
                    s.plain(", with ");
                    let title = lens.dataset().document(*id).map_or("a document that is gone", |document| document.title.as_str());
                    s.edit(format!("“{title}”"), format!("{at}/mail/encloses"));
                    s.plain(" enclosed");
                }
                if let Some(reply) = reply {
                    s.plain(", to be answered with ");
                    s.edit(reply.in_words(lens, table), format!("{at}/mail/reply/answers"));
                    s.plain(" within ");
                    s.edit(lens.clock().customs().count_words(reply.days as usize, "day", "days"), format!("{at}/mail/reply/days"));
                }
                "then"
            }
            Step::Set { along, alter } => {
                let end = along.iter().try_fold(table, |at, link| Some(lens.dataset().table(at)?.link(*link)?.to)).unwrap_or(table);
                let whose = (!along.is_empty()).then(|| format!("its {}’s ", words_of_path(lens, table, along)));
                for (place, one) in alter.iter().enumerate() {
                    s.plain(if place == 0 { "" } else { ", and " });
                    let name = format!("{}{}", whose.as_deref().unwrap_or_default(), field_words(lens, end, one.field));
                    s.edit(altered_words(lens, end, own, found, &name, one), format!("{at}/set/alter/{place}"));
                }
                "then"
            }
            Step::Add { table: into, alter, lines } => {
                s.plain("add ");
                s.edit(a_or_an(&one_of(lens, *into)), format!("{at}/add"));
                for (place, one) in alter.iter().enumerate() {
                    s.plain(if place == 0 { ", with " } else { "; " });
                    let name = field_words(lens, *into, one.field);
                    s.edit(format!("{name}: {}", value_words(lens, *into, own, true, one)), format!("{at}/add/alter/{place}"));
                }
                for (number, line) in lines.iter().enumerate() {
                    let to = lens.dataset().table(*into).and_then(|home| home.link(line.under)).map(|link| link.to);
                    let Some(to) = to else { continue };
                    s.plain(if number == 0 { ", and under it " } else { ", " });
                    let says = |one: &Altered| format!("{}: {}", field_words(lens, to, one.field), value_words(lens, to, own, true, one));
                    let values: Vec<String> = line.alter.iter().map(says).collect();
                    let with = if values.is_empty() { String::new() } else { format!(" ({})", values.join("; ")) };
                    s.edit(format!("{}{with}", a_or_an(&one_of(lens, to))), format!("{at}/add/lines/{number}"));
                }
                "then"
            }
            Step::Start { automation } => {
                s.plain("start ");
                s.edit(started_words(lens, *automation), format!("{at}/start"));
                s.plain(" with it");
                "then"
            }
            Step::Say { text } => {
                match lens.talk_for_names(table) {
                    None => s.plain("say of it, for all who see it, "),
                    Some(names) => s.plain(format!("say of it, for {names} alone, ")),
                }
                let text = text.to_text(lens.dataset(), table);
                s.edit(if text.is_empty() { "…".to_owned() } else { format!("“{text}”") }, format!("{at}/say/text"));
                "then"
            }
            Step::Each { table: there, condition, same, first, steps, otherwise } => {
                s.edit(one_of(lens, *there), format!("{at}/each"));
                let ours = |one: &Same| {
                    format!(
                        "{} is this {}’s {}",
                        field_words(lens, *there, one.theirs),
                        one_of(lens, table),
                        field_words(lens, table, one.ours)
                    )
                };
                let alike: Vec<String> = same.iter().map(ours).collect();
                if !alike.is_empty() || !condition.is_nothing() {
                    s.plain(" where ");
                }
                if !alike.is_empty() {
                    s.edit(list_text(&alike, "and"), format!("{at}/each/same"));
                    s.plain(if condition.is_nothing() { "" } else { " and " });
                }
                condition_phrases(&mut s, condition, lens, *there, &format!("{at}/each/condition"));
                branches.push(branch("", steps, About { table: *there, own, found: true }, "steps"));
                branches.extend((!otherwise.is_empty()).then(|| branch("if there is none", otherwise, about, "otherwise")));
                if *first { "for the first" } else { "for each" }
            }
            Step::If { condition, steps, otherwise } => {
                condition_phrases(&mut s, condition, lens, table, &format!("{at}/if/condition"));
                branches.push(branch("then", steps, about, "steps"));
                branches.push(branch("otherwise", otherwise, about, "otherwise"));
                "if"
            }
            Step::Wait { pause, steps, otherwise } => {
                s.edit(pause.words(lens, table), format!("{at}/wait/pause"));
                if matches!(pause, Pause::Until { .. }) {
                    branches.push(branch("if it was", steps, about, "steps"));
                    branches.push(branch("otherwise", otherwise, about, "otherwise"));
                }
                "wait"
            }
            Step::Call { calls, steps, otherwise } => {
                s.plain("call ");
                let address = calls.address.to_text(lens.dataset(), table);
                s.edit(format!("{} {address}", calls.method.word()), format!("{at}/call/calls/address"));
                if !calls.sends.is_empty() {
                    s.plain(", sending ");
                    let sent: Vec<String> = calls.sends.iter().map(|one| sends_words(one, lens, table)).collect();
                    s.edit(list_text(&sent, "and"), format!("{at}/call/calls/sends"));
                }
                if !calls.secret.is_empty() {
                    s.plain(", ");
                    s.edit("signed", format!("{at}/call/calls/secret"));
                }
                for (place, one) in calls.takes.iter().enumerate() {
                    s.plain(if place == 0 { ", and put " } else { ", " });
                    let into = field_words(lens, table, one.field);
                    s.edit(format!("{} of its answer into {into}", one.path), format!("{at}/call/calls/takes/{place}"));
                }
                branches.push(branch("if that went well", steps, about, "steps"));
                branches.push(branch("otherwise", otherwise, about, "otherwise"));
                "then"
            }
            Step::Stop => {
                s.plain("nothing further is done");
                "then"
            }
        };
        Clause { word: word.into(), at: Some(at.to_owned()), phrases: s.phrases(), branches }
    }
}

/// What is sent and under which name: *hours*, *place as section, its name*.
fn sends_words(one: &CallSends, lens: &Lens<'_>, table: TableId) -> String {
    let words: String = one.value.names(lens.dataset(), table).into_iter().map(|run| run.text).collect();
    if words == one.name.replace('_', " ") { words } else { format!("{words} as {}", one.name) }
}

impl Pause {
    fn words(&self, lens: &Lens<'_>, table: TableId) -> String {
        let count = |count: u32, one: &str, many: &str| lens.clock().customs().count_words(count as usize, one, many);
        match self {
            Pause::Hours(hours) => count(*hours, "hour", "hours"),
            Pause::Days(days) => count(*days, "day", "days"),
            Pause::Field(field) => format!("until its {}", field_words(lens, table, *field)),
            Pause::Until { condition, days } => {
                let sentence = Condition::to_sentence(condition, lens, table);
                format!("until {sentence}, at most {}", count(*days, "day", "days"))
            }
        }
    }
}

/// What is done to a field: *status becomes made good*.
fn altered_words(lens: &Lens<'_>, table: TableId, own: TableId, found: bool, name: &str, one: &Altered) -> String {
    match &one.to {
        Alter::Empty => format!("empty {name}"),
        Alter::Replace { find, with } => format!("replace “{find}” in {name} by “{with}”"),
        Alter::Days(days) => format!("move {name} by {days} days"),
        Alter::Raise(share) => format!("raise {name} by {}", lens.clock().customs().share_text(*share, 0)),
        Alter::AddOptions(_) | Alter::AddPeople(_) | Alter::AddLinks(_) => {
            format!("add {} to {name}", value_words(lens, table, own, found, one))
        }
        Alter::TakeOptions(_) | Alter::TakePeople(_) | Alter::TakeLinks(_) => {
            format!("take {} out of {name}", value_words(lens, table, own, found, one))
        }
        Alter::AddItem(text) => format!("add “{text}” to {name}"),
        Alter::AddTask(task) => {
            let whom = match task.person {
                Some(person) => format!(", for {}", lens.dataset().people.name(person)),
                None if task.along.is_empty() => String::new(),
                None => format!(", for its {}", words_of_path(lens, table, &task.along)),
            };
            let count = |days: u16| lens.clock().customs().count_words(usize::from(days), "day", "days");
            let by = task.days.map_or_else(String::new, |days| format!(", within {}", count(days)));
            format!("add “{}” to {name}{whom}{by}", task.text)
        }
        Alter::Formula(formula) => format!("work out {name} as {}", formula.text(lens.dataset())),
        Alter::Set(_) | Alter::From(_) | Alter::Now | Alter::Along(_) => {
            format!("set {name} to {}", value_words(lens, table, own, found, one))
        }
    }
}

fn started_words(lens: &Lens<'_>, automation: AutomationId) -> String {
    lens.dataset().automation(automation).map_or_else(|| "an automation that is gone".to_owned(), |other| format!("“{}”", other.name))
}

/// What stands in a field then.
fn value_words(lens: &Lens<'_>, table: TableId, own: TableId, found: bool, one: &Altered) -> String {
    let def = lens.dataset().table(table).and_then(|home| home.def.field(one.field));
    let text = |value: crate::value::Value| def.map_or_else(String::new, |def: &FieldDef| lens.text_as(&def.kind, value.as_cell(), false));
    let this = if found { format!("this {}’s ", one_of(lens, own)) } else { "its ".to_owned() };
    let words = match &one.to {
        Alter::Set(Input::Value(value)) => text(value.clone()),
        Alter::Set(Input::Text(typed)) => format!("“{typed}”"),
        Alter::Set(Input::Again) => "what it was copied from".to_owned(),
        Alter::Set(_) | Alter::Empty => String::new(),
        Alter::From(field) => format!("its {}", field_words(lens, table, *field)),
        Alter::Now => "today".to_owned(),
        Alter::Along(path) if path.is_empty() => format!("this {}", one_of(lens, own)),
        Alter::Along(path) => format!("{this}{}", words_of_path(lens, own, path)),
        Alter::AddOptions(options) | Alter::TakeOptions(options) => text(crate::value::Value::Choices(options.clone())),
        Alter::AddPeople(people) | Alter::TakePeople(people) => text(crate::value::Value::People(people.clone())),
        Alter::AddLinks(records) | Alter::TakeLinks(records) => text(crate::value::Value::Links(records.clone())),
        Alter::Replace { .. } | Alter::Days(_) | Alter::Raise(_) | Alter::AddItem(_) | Alter::AddTask(_) => String::new(),
        Alter::Formula(formula) => formula.text(lens.dataset()),
    };
    if words.is_empty() { "nothing".to_owned() } else { words }
}

impl Recipient {
    /// What goes there: people get it by the way that each of them chose.
    pub(super) fn noun(&self, lens: &Lens<'_>, table: TableId) -> &'static str {
        let holds = |path: &[FieldId]| {
            let (home, field) = lens.dataset().walk(table, path).ok()?;
            lens.dataset().shown_kind(home, field).map(|(_, kind)| kind.clone())
        };
        match self {
            Recipient::Address(_) => Channel::Mail.noun(),
            Recipient::Phone(_) => Channel::Text.noun(),
            Recipient::Room(_) => Channel::Chat.noun(),
            Recipient::Role(_) => "message",
            Recipient::Field(path) => match holds(path) {
                Some(Kind::Email) => Channel::Mail.noun(),
                Some(Kind::Phone) => Channel::Text.noun(),
                _ => "message",
            },
        }
    }

    pub(super) fn words(&self, lens: &Lens<'_>, table: TableId) -> String {
        match self {
            Recipient::Address(address) => address.clone(),
            Recipient::Phone(number) => number.clone(),
            Recipient::Room(room) => format!("the room {}", room.trim()),
            Recipient::Role(role) => {
                // Which roles there are is for those who give them.
                let name = lens.dataset().roles().find(|one| one.id == *role).filter(|_| lens.is_steward()).map(|role| role.name.clone());
                name.map_or_else(|| "everybody of a role".to_owned(), |name| format!("everybody who is {name}"))
            }
            Recipient::Field(path) => format!("the {}", words_of_path(lens, table, path)),
        }
    }
}
