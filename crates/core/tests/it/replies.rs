//! Messages that are answered from within: what their page tells, what an answer does, and when none is taken.

use crate::{fixture::*, world::*};
use westerfall_core::{
    access::{Asker, Lens},
    automation::{
        Asked, Automation, Move, Occasion, Recipient, Replied, Reply, ReplyBy, ReplyChoice, ReplyGiven, ReplyView, Settled, Step,
    },
    bulk::{Alter, Altered},
    fault::FaultKind,
    history::Op,
    id::{AutomationId, FieldId},
    intent::Intent,
    part::Part,
    people::Actor,
    sentence::as_text,
    value::{Input, Value},
};

const ASKED: i64 = 7;

impl World {
    fn choice(&self, words: &str, status: &str) -> ReplyChoice {
        let to = Alter::Set(Input::Value(self.option(&format!("Faults.Status.{status}"))));
        ReplyChoice { words: words.into(), alter: vec![Altered { field: self.f("Faults.Status"), to }] }
    }

    /// What the warden does next, with what its page shows.
    fn next(&self, facts: &[&str]) -> Reply {
        let choices = vec![self.choice("I’ll go and look", "checked"), self.choice("Call the crew", "scheduled")];
        Reply { answers: ReplyBy::Choices(choices), facts: facts.iter().map(|name| self.f(&format!("Faults.{name}"))).collect(), days: 2 }
    }

    fn warden(&self) -> Recipient {
        Recipient::Field(["Faults.Section", "Sections.District", "Districts.Warden"].map(|path| self.f(path)).to_vec())
    }

    fn asking(&self, to: Recipient, reply: Reply) -> Step {
        match self.mail("Faults", to, "{What is wrong}", false) {
            Step::Mail { to, subject, body, digest, .. } => {
                Step::Mail { to, subject, body, digest, reply: Some(reply), encloses: None, text: None }
            }
            other => other,
        }
    }

    /// Asks of fault 3 whenever its severity changes.
    fn ask(&mut self, to: Recipient, reply: Reply) -> (AutomationId, Asked) {
        let step = self.asking(to, reply);
        let when = Occasion::Changed(vec![self.f("Faults.Severity")]);
        let id = self.automate("Faults", "What next", when, Default::default(), vec![step]);
        let other = ["dangerous", "passable"].map(|name| self.option(&format!("Faults.Severity.{name}")));
        let now = self.value("Faults.Severity", 3);
        let moves = self.put("Faults.Severity", 3, other.into_iter().find(|one| *one != now).unwrap());
        let mails: Vec<_> = runs(&moves).into_iter().flat_map(|run| &run.mails).collect();
        let [mail] = &mails[..] else { panic!("{mails:?}") };
        (id, (**mail.asks.as_ref().unwrap()).clone())
    }

    fn replied(&self, asked: &Asked, given: ReplyGiven) -> Intent {
        Intent::Reply(Box::new(Replied { number: ASKED, asked: asked.clone(), given }))
    }

    fn answer(&mut self, asked: &Asked, given: ReplyGiven) -> Result<Vec<Move>, String> {
        let intent = self.replied(asked, given);
        self.try_do(Asker::Automation(asked.automation), &intent).map_err(|faults| faults.0[0].message.clone())
    }

    fn page(&self, asked: &Asked) -> ReplyView {
        asked.view(&self.ds, &self.clock, "Orrindale Paths Trust", None)
    }

    fn status(&self) -> Value {
        self.value("Faults.Status", 3)
    }
}

fn facts(view: &ReplyView) -> Vec<String> {
    view.facts.iter().map(|fact| format!("{}: {}", fact.label, fact.text)).collect()
}

#[test]
fn its_page_says_what_pressing_would_do_and_an_answer_does_it_in_the_readers_name() {
    let mut world = World::new();
    let reported = world.option("Faults.Status.reported");
    world.put("Faults.Status", 3, reported);
    let (warden, reply) = (world.warden(), world.next(&["Section", "Status"]));
    let (id, asked) = world.ask(warden, reply);
    insta::assert_snapshot!(world.clause(id), @r"
    when: a fault has severity changed
    if:
    then: send a message to the section’s district’s warden, headed “{What is wrong}”, to be answered with “I’ll go and look” or “Call the crew” within 2 days
    It changes what Nadia Ferreira-Holt may change.
    ");
    let view = world.page(&asked);
    assert_eq!(view.choices.iter().map(|choice| choice.words.as_str()).collect::<Vec<_>>(), ["I’ll go and look", "Call the crew"]);
    insta::assert_snapshot!(as_text(&view.choices[0].says), @"You chose I’ll go and look. Pressing once sets the status from reported to checked. Until then nothing has changed.");
    assert_eq!(world.status(), world.option("Faults.Status.reported"), "looking changes nothing");

    let moves = world.answer(&asked, ReplyGiven::Choice(0)).unwrap();
    let change = &moves[0].change;
    assert_eq!(change.who, Actor::Person(asked.person.unwrap()));
    assert!(matches!(&change.ops[..], [Op::Reply { asked: ASKED, .. }, Op::Cell { .. }]), "{:?}", change.ops);
    assert_eq!(world.status(), world.option("Faults.Status.checked"));
    let lens = Lens::new(&world.ds, world.nadia(), &world.clock);
    assert_eq!(change.in_words(&lens), "answered “I’ll go and look”");
    let trail = lens.trail(asked.table, asked.record, std::slice::from_ref(change));
    insta::assert_snapshot!(trail[0].answered.as_deref().unwrap(), @"answered “I’ll go and look” to the message of “What next”");

    let told = vec!["Nadia Ferreira-Holt".to_owned()];
    let after = asked.view(&world.ds, &world.clock, "Trust", Some(&Settled { change, told }));
    let done = after.answered.unwrap();
    assert!(after.choices.is_empty());
    insta::assert_snapshot!(format!("{}\n{}\n{}", as_text(&done.says), done.changed.join("; "), done.told.join("; ")), @r"
    Jonah Adeyemi-Clark answered I’ll go and look on 23 Nov 2026, 09:30.
    status, from reported to checked
    Nadia Ferreira-Holt
    ");
    let status = after.facts.iter().find(|fact| fact.label == "Status").unwrap();
    assert_eq!((status.text.as_str(), status.was.as_deref()), ("checked", Some("reported")));
}

#[test]
fn a_page_whose_record_moved_on_says_so_before_the_press() {
    let mut world = World::new();
    let (warden, reply) = (world.warden(), world.next(&["Status"]));
    let (_, asked) = world.ask(warden, reply);
    let hand = world.option("Faults.Status.in hand");
    world.put("Faults.Status", 3, hand);
    assert!(as_text(&world.page(&asked).choices[0].says).contains("from in hand to checked"));
    let checked = world.option("Faults.Status.checked");
    world.put("Faults.Status", 3, checked);
    let says = as_text(&world.page(&asked).choices[0].says);
    assert_eq!(says, "You chose I’ll go and look. The status is already checked; pressing once tells that you answered so.");
    // It is answered all the same.
    let moves = world.answer(&asked, ReplyGiven::Choice(0)).unwrap();
    assert!(matches!(&moves[0].change.ops[..], [Op::Reply { .. }]));
}

#[test]
fn nothing_is_taken_after_its_time_or_from_somebody_who_lost_the_record_or_where_the_question_went() {
    let mut world = World::new();
    let (warden, reply) = (world.warden(), world.next(&["Section", "Status"]));
    let (id, asked) = world.ask(warden, reply);
    assert!(asked.saw && !facts(&world.page(&asked)).is_empty());
    let before = world.status();

    let mut late = World { ds: world.ds.clone(), clock: world.clock.clone() };
    late.later(49);
    let words = late.answer(&asked, ReplyGiven::Choice(0)).unwrap_err();
    assert!(words.starts_with("This could be answered until "), "{words}");
    assert!(facts(&late.page(&asked)).is_empty() && late.page(&asked).choices.is_empty(), "after its time the link tells nothing");

    // The fault goes to another district, of which they are no warden.
    let mut moved = World { ds: world.ds.clone(), clock: world.clock.clone() };
    let person = asked.person.unwrap();
    let sections = moved.at("Sections");
    let elsewhere = (1..=40).find(|section| !Lens::new(&moved.ds, Asker::Person(person), &moved.clock).sees(sections, record(*section)));
    moved.put("Faults.Section", 3, Value::Links(vec![record(elsewhere.unwrap())]));
    let words = moved.answer(&asked, ReplyGiven::Choice(0)).unwrap_err();
    assert!(words.ends_with("may not see this fault any more, so this can’t be answered."), "{words}");
    assert!(facts(&moved.page(&asked)).is_empty());

    let mut gone = World { ds: world.ds.clone(), clock: world.clock.clone() };
    gone.act(gone.nadia(), &Intent::Remove { table: asked.table, records: vec![asked.record] });
    assert_eq!(gone.answer(&asked, ReplyGiven::Choice(0)).unwrap_err(), "The fault that this is about is not there any more.");

    let automation = world.ds.automation(id).unwrap().clone();
    world.act(world.nadia(), &Intent::Drop(Part::Automation(automation)));
    assert!(world.answer(&asked, ReplyGiven::Choice(0)).unwrap_err().starts_with("What asked this is not there any more."));
    assert_eq!(world.status(), before);
}

#[test]
fn an_answer_is_given_at_its_link_alone_and_never_does_more_than_whoever_asked_may() {
    let mut world = World::new();
    let (warden, reply) = (world.warden(), world.next(&[]));
    let (id, asked) = world.ask(warden, reply);
    let intent = world.replied(&asked, ReplyGiven::Choice(0));
    for asker in [world.nadia(), Asker::Westerfall] {
        let faults = world.try_do(asker, &intent).unwrap_err();
        assert_eq!(faults.0[0].kind, FaultKind::NotAllowed);
    }
    assert!(world.answer(&asked, ReplyGiven::Choice(5)).is_err() && world.answer(&asked, ReplyGiven::Typed("checked".into())).is_err());
    // Acting for a trustee, who reads.
    let pavel = person(&world.ds, "Pavel");
    let mut ds = (*world.ds).clone();
    let mut automation = ds.automation(id).unwrap().clone();
    automation.acts_for = Some(pavel);
    let put = |part: &Automation| Some(Box::new(Part::Automation(part.clone())));
    let op = Op::Put { before: put(ds.automation(id).unwrap()), after: put(&automation) };
    let seq = ds.seq + 1;
    ds.apply(&westerfall_core::history::Change {
        seq,
        at: world.clock.now,
        who: Actor::Westerfall,
        undoes: None,
        again: false,
        ops: vec![op],
    });
    world.ds = std::sync::Arc::new(ds);
    let words = world.answer(&asked, ReplyGiven::Choice(0)).unwrap_err();
    assert!(words.starts_with("Whoever asked this may not change it any more"), "{words}");
}

#[test]
fn somebody_outside_is_told_what_was_chosen_for_them_and_nothing_else() {
    let mut world = World::new();
    let reply = world.next(&["Kind"]);
    let (id, asked) = world.ask(office(), reply);
    assert_eq!((asked.person, asked.saw), (None, false));
    let view = world.page(&asked);
    assert_eq!(view.facts.len(), 1);
    assert_eq!(view.title, asked.subject);
    let says = as_text(&view.choices[0].says);
    assert_eq!(says, "You chose I’ll go and look. Pressing once sets the status to checked. Until then nothing has changed.");
    let moves = world.answer(&asked, ReplyGiven::Choice(1)).unwrap();
    assert_eq!(moves[0].change.who, Actor::Automation(id));
    let told = vec!["Nadia Ferreira-Holt".to_owned()];
    let done = asked.view(&world.ds, &world.clock, "Trust", Some(&Settled { change: &moves[0].change, told })).answered.unwrap();
    assert!(done.changed.is_empty() && done.told.is_empty(), "{done:?}");
}

#[test]
fn what_is_typed_goes_into_its_field_and_is_refused_in_words() {
    let mut world = World::new();
    let typed = |world: &World, field: &str| Reply {
        answers: ReplyBy::Typed { asks: "When was it reported?".into(), field: world.f(field) },
        facts: Vec::new(),
        days: 1,
    };
    let (warden, reply) = (world.warden(), typed(&world, "Faults.Reported on"));
    let (_, asked) = world.ask(warden, reply);
    assert_eq!(world.answer(&asked, ReplyGiven::Typed("  ".into())).unwrap_err(), "Write your answer.");
    assert!(world.answer(&asked, ReplyGiven::Typed("x".repeat(501))).unwrap_err().contains("at most 500"));
    let words = world.answer(&asked, ReplyGiven::Typed("some day".into())).unwrap_err();
    assert!(words.contains("some day") || words.contains("date"), "{words}");
    world.answer(&asked, ReplyGiven::Typed("2026-05-04".into())).unwrap();
    assert_eq!(world.value("Faults.Reported on", 3), Value::Date(jiff::civil::date(2026, 5, 4)));
}

#[test]
fn a_mail_answers_by_the_words_of_its_first_line() {
    let world = World::new();
    let reply = world.next(&[]);
    for text in ["I'll go and look", "  “I’ll go and look.”\n\n> Answer", "\nI’LL GO AND LOOK\nTamsin"] {
        assert_eq!(reply.read(text), Some(ReplyGiven::Choice(0)), "{text}");
    }
    for text in ["", "> I’ll go and look", "Perhaps", "Call", "I’ll go and look and call the crew"] {
        assert_eq!(reply.read(text), None, "{text}");
    }
}

#[test]
fn what_may_be_answered_is_checked_where_it_is_wrong() {
    let world = World::new();
    let check = |change: &dyn Fn(&mut Reply)| -> Vec<(String, String)> {
        let mut reply = world.next(&["Status"]);
        change(&mut reply);
        let automation = Automation {
            id: AutomationId::FIRST,
            table: world.at("Faults"),
            name: "Asks".into(),
            on: true,
            when: Occasion::Added,
            condition: Default::default(),
            steps: vec![world.asking(office(), reply)],
            before: Default::default(),
            acts_for: None,
            unsaid: false,
            draft: None,
        };
        let faults = world.ds.decide(&Intent::Make(Part::Automation(automation)), world.nadia(), &world.clock).err();
        faults.into_iter().flat_map(|faults| faults.0).map(|fault| (fault.pointer, fault.message)).collect()
    };
    let choices = |reply: &mut Reply, change: &dyn Fn(&mut Vec<ReplyChoice>)| match &mut reply.answers {
        ReplyBy::Choices(all) => change(all),
        ReplyBy::Typed { .. } => {}
    };
    assert_eq!(check(&|_| {}), []);
    let at = |change: &dyn Fn(&mut Reply)| check(change).into_iter().map(|(at, _)| at).collect::<Vec<_>>();
    assert_eq!(at(&|reply| reply.days = 0), ["/steps/0/mail/reply/days"]);
    assert_eq!(at(&|reply| reply.facts = vec![FieldId::new(9_999).unwrap()]), ["/steps/0/mail/reply/facts"]);
    assert_eq!(at(&|reply| choices(reply, &|all| all.clear())), ["/steps/0/mail/reply/answers"]);
    assert_eq!(
        at(&|reply| choices(reply, &|all| all[1].words = " i’ll GO and look".into())),
        ["/steps/0/mail/reply/answers/choices/1/words"]
    );
    assert_eq!(at(&|reply| choices(reply, &|all| all[0].words = "a\nb".into())), ["/steps/0/mail/reply/answers/choices/0/words"]);
    assert_eq!(at(&|reply| choices(reply, &|all| all[0].alter[0].to = Alter::Now)), ["/steps/0/mail/reply/answers/choices/0/alter"]);
    let into = |field: &str| ReplyBy::Typed { asks: "What?".into(), field: world.f(field) };
    assert_eq!(at(&|reply| reply.answers = into("Faults.Status")), ["/steps/0/mail/reply/answers/typed/field"]);
    assert_eq!(at(&|reply| reply.answers = into("Faults.Description")), [] as [&str; 0]);
}

#[test]
fn an_answers_words_are_told_to_those_who_see_what_it_put_in() {
    let mut world = World::new();
    let typed = Reply {
        answers: ReplyBy::Typed { asks: "What did you find?".into(), field: world.f("Faults.Description") },
        facts: Vec::new(),
        days: 1,
    };
    let warden = world.warden();
    let (_, asked) = world.ask(warden, typed);
    let moves = world.answer(&asked, ReplyGiven::Typed("zymurgy".into())).unwrap();
    let change = &moves[0].change;
    let notice = moves[0].notices(&Lens::new(&moves[0].after, Asker::Westerfall, &world.clock)).remove(0);
    let told = |ds: &westerfall_core::dataset::Dataset, who: Asker| {
        let lens = Lens::new(ds, who, &world.clock);
        let trail = lens.trail(asked.table, asked.record, std::slice::from_ref(change));
        let notice = lens.notice(&notice).map(|told| as_text(&told.says));
        format!("{trail:?} {} {notice:?}", change.in_words(&lens))
    };
    let reads = asker(&world.ds, "Pavel");
    assert!(told(&world.ds, reads).contains("answered “zymurgy”"), "{}", told(&world.ds, reads));
    // The role of whoever reads loses the field.
    let mut ds = (*world.ds).clone();
    let pavel = person(&ds, "Pavel");
    let role = ds.roles().find(|role| role.members.contains(&pavel)).unwrap().clone();
    let mut hides = role.clone();
    let mut rights = role.tables.get(&asked.table).cloned().unwrap_or_default();
    rights.fields.insert(world.f("Faults.Description"), westerfall_core::access::FieldRight::Hidden);
    hides.tables.insert(asked.table, rights);
    let put = |role: &westerfall_core::access::Role| Some(Box::new(Part::Role(role.clone())));
    let seq = ds.seq + 1;
    let ops = vec![Op::Put { before: put(&role), after: put(&hides) }];
    ds.apply(&westerfall_core::history::Change { seq, at: world.clock.now, who: Actor::Westerfall, undoes: None, again: false, ops });
    assert!(!told(&ds, reads).contains("zymurgy"), "{}", told(&ds, reads));
    assert!(told(&ds, world.nadia()).contains("zymurgy"));
}
