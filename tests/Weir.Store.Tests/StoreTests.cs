using Shouldly;
using Weir.Core.Access;
using Weir.Core.Views;
using Weir.Testing;

namespace Weir.Store.Tests;

public sealed class StoreTests : IDisposable
{
    private readonly TempFolder _folder = Repository.Temp();
    private readonly StoreDatabase _database;

    public StoreTests() => _database = StoreDatabase.Open(_folder.Path);

    public void Dispose()
    {
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        _folder.Dispose();
    }

    private static Viewer Viewer(string name) =>
        new(name, "Some one", ["a", "b"], new Dictionary<string, IReadOnlyList<string>> { ["ports"] = ["SKE", "Ü'\"x"] });

    [Fact]
    public void A_user_comes_back_as_put_and_the_password_is_not_kept()
    {
        var users = new Users(_database);
        users.Put(Viewer("ann"), "correct horse", loopbackOnly: true);
        var found = users.Find("ann")!;
        found.Viewer.Roles.ShouldBe(["a", "b"]);
        found.Viewer.Attributes["ports"].ShouldBe(["SKE", "Ü'\"x"]);
        found.LoopbackOnly.ShouldBeTrue();
        users.Check("ann", "correct horse").ShouldNotBeNull();
        users.Check("ann", "wrong horse").ShouldBeNull();
        users.Check("bob", "correct horse").ShouldBeNull();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        foreach (var file in Directory.EnumerateFiles(_folder.Path))
            System.Text.Encoding.UTF8.GetString(File.ReadAllBytes(file)).ShouldNotContain("correct horse");
    }

    [Fact]
    public void A_removed_user_takes_the_tokens_along()
    {
        var (users, tokens) = (new Users(_database), new Tokens(_database, TimeProvider.System));
        users.Put(Viewer("ann"), "correct horse");
        var (info, secret) = tokens.Create("ann", "l", TimeSpan.FromDays(1));
        tokens.Check(secret).ShouldBe((TokenState.Good, "ann"));
        tokens.Remove("bob", info.Id).ShouldBeFalse();
        users.Remove("ann").ShouldBeTrue();
        tokens.Check(secret).ShouldBe((TokenState.Unknown, null));
        users.Remove("ann").ShouldBeFalse();
    }

    [Fact]
    public void Versions_are_counted_and_the_newest_is_found_after_opening_again()
    {
        var versions = new Versions(_database, TimeProvider.System);
        versions.Newest().ShouldBeNull();
        versions.Add(new Dictionary<string, string> { ["a"] = "1" }, "ann").Number.ShouldBe(1);
        versions.Add(new Dictionary<string, string> { ["a"] = "2" }, "ann", why: "A second").Number.ShouldBe(2);
        versions.List(9).Select(v => (v.Number, v.Why)).ShouldBe([(2, "A second"), (1, "")]);
        versions.List(9, before: 2).Select(v => v.Number).ShouldBe([1L]);
        var again = new Versions(StoreDatabase.Open(_folder.Path), TimeProvider.System).Newest()!;
        (again.Number, again.By, again.Files["a"]).ShouldBe((2, "ann", "2"));
    }

    [Fact]
    public void A_draft_goes_back_and_forth_as_a_list_of_texts_would_whoever_else_has_one_and_after_opening_again()
    {
        var drafts = new Drafts(_database, TimeProvider.System);
        const string path = "dashboards/x.yaml";
        drafts.Save("bob", path, "bob's", 0, (1, null));
        var random = new Random(11);
        // The oracle: texts from the first that is kept, and which of them is shown.
        var (texts, at) = (new List<string>(), 0);
        // What was read under a number is what the number means from then on: a window that is behind is known by it.
        var under = new Dictionary<long, string>();
        for (var i = 0; i < 1500; i++)
        {
            if (i == 600)
                drafts = new Drafts(StoreDatabase.Open(_folder.Path), TimeProvider.System);
            var now = drafts.Get("ann", path);
            if (random.Next(10) is var act && act < 7)
            {
                var (text, joins) = ($"text {i}", random.Next(4) == 0);
                drafts.Save("ann", path, text, now?.Step ?? 0, (1, "published"), joins: joins);
                if (now is null)
                    (texts, at) = (["published"], 0);
                else if (joins && at > 0)
                    texts.RemoveAt(at--);
                texts.RemoveRange(at + 1, texts.Count - at - 1);
                texts.Add(text);
                at++;
                if (texts.Count > Drafts.MostSteps)
                    (texts, at) = (texts[^Drafts.MostSteps..], at - 1);
            }
            else if (act < 9 && now is not null)
            {
                drafts.Go("ann", path, -1);
                at = Math.Max(0, at - 1);
            }
            else if (now is not null)
            {
                drafts.Go("ann", path, 1);
                at = Math.Min(texts.Count - 1, at + 1);
            }
            if (drafts.Get("ann", path) is not { } then)
                continue;
            (under.GetValueOrDefault(then.Step) ?? then.Text).ShouldBe(then.Text);
            under[then.Step] = then.Text;
            (then.Text, then.CanUndo, then.CanRedo).ShouldBe((texts[at], at > 0, at < texts.Count - 1), $"after {i + 1}");
        }
        var last = drafts.Get("ann", path)!;
        Should.Throw<DraftMovedException>(() => drafts.Save("ann", path, "late", last.Step - 1, (1, null))).Step.ShouldBe(last.Step);
        drafts.Discard("ann", path, last.Step - 1).ShouldBeFalse();
        drafts.Get("ann", path).ShouldBe(last);
        drafts.Discard("ann", path, last.Step).ShouldBeTrue();
        drafts.Get("ann", path).ShouldBeNull();
        drafts.Of("bob").Select(d => (d.Path, d.Text, d.CanUndo)).ShouldBe([(path, "bob's", false)]);
        var users = new Users(_database);
        users.Put(Viewer("bob"), "correct horse");
        users.Remove("bob");
        drafts.Of("bob").ShouldBeEmpty("who has the same name later is somebody else");
    }

    [Fact]
    public void Every_kind_of_edit_comes_back_as_stored()
    {
        var views = new Views(_database, TimeProvider.System);
        ViewEdit[] edits =
        [
            new ViewEdit.PlaceTiles("t", [new TilePlace("a", new(1, 2, 3, 4))]),
            new ViewEdit.MoveToTab("a", "t"),
            new ViewEdit.HideTile("a"),
            new ViewEdit.ShowTile("a"),
            new ViewEdit.AddTab("m", "M"),
            new ViewEdit.RenameTab("m", "Ü"),
            new ViewEdit.HideTab("one"),
            new ViewEdit.ShowTab("one"),
            new ViewEdit.RemoveTab("m"),
            new ViewEdit.OrderTabs(["a", "b"]),
            new ViewEdit.Reset(KeepOwn: true),
            new ViewEdit.SetColumns("t", 3, "s"),
            new ViewEdit.AddTile("own-x", "k/a", "t", "s", new(0, 0, 4, 2)),
            new ViewEdit.MakeTile("own-m", "d", new(Picture: "bar", Show: ["m"], By: ["f"]), "t", "s", new(0, 0, 4, 2)),
            new ViewEdit.CopyTile("a", "own-a", "t"),
            new ViewEdit.RemoveTile("own-a"),
            new ViewEdit.RetitleTile("own-x", "Ü"),
            new ViewEdit.CopyTab("t", "own-t", "Ü"),
            new ViewEdit.Draw(
                "a",
                new(Picture: "bar", Show: ["m"], By: ["f.month"], Split: "", Sort: "m", Descending: true, Top: 3, Rest: true)
            ),
            new ViewEdit.SetTable(
                "a",
                new(["m", "f.day"], ["f.day"], ["m"], [new("m", 120)], [new("f.day", true, "x")], [new("m", Most: 2.5)])
            ),
            new ViewEdit.Clear("own-p", "Page"),
            new ViewEdit.TakePublished("a"),
            new ViewEdit.KeepPicks(
                new Dictionary<string, System.Text.Json.JsonElement>
                {
                    ["A-tile"] = System.Text.Json.JsonSerializer.SerializeToElement(new { period = "last 3 days" }),
                },
                new Dictionary<string, IReadOnlyList<string>> { ["P"] = ["ü"] }
            ),
        ];
        foreach (var edit in edits)
            views.Append(new("ann", "d"), 1, edit).ShouldBeTrue();
        edits.Select(e => e.GetType()).ShouldBe(typeof(ViewEdit).GetNestedTypes(), ignoreOrder: true);
        static string Json(IEnumerable<ViewEdit> all) => System.Text.Json.JsonSerializer.Serialize(all);
        Json(views.Get(new("ann", "d")).Edits).ShouldBe(Json(edits));
        views.Get(new("bob", "d")).Edits.ShouldBeEmpty();
    }

    [Fact]
    public void Undo_reaches_back_100_steps_and_a_new_edit_ends_redo()
    {
        var views = new Views(_database, TimeProvider.System);
        for (var i = 0; i < 105; i++)
            views.Append(new("ann", "d"), 1, new ViewEdit.HideTile($"t{i}"));
        var undone = 0;
        while (views.Undo(new("ann", "d")))
            undone++;
        undone.ShouldBe(PersonalView.UndoSteps);
        views.Redo(new("ann", "d")).ShouldBeTrue();
        views.Get(new("ann", "d")).Edits.Count.ShouldBe(6);
        views.Append(new("ann", "d"), 1, new ViewEdit.ShowTile("x"));
        views.Redo(new("ann", "d")).ShouldBeFalse();
        views.Get(new("ann", "d")).Edits.Count.ShouldBe(7);
    }

    [Fact]
    public void A_full_log_refuses_and_a_reset_makes_room()
    {
        var views = new Views(_database, TimeProvider.System);
        using (var connection = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={Path.Combine(_folder.Path, "weir.sqlite")}"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText =
                $"WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < {Views.MaximumEdits}) INSERT INTO view_edits "
                + $"(user_name, dashboard, version, edit, made, undone) SELECT 'ann', 'd', 1, '{{\"edit\":\"hide\",\"tile\":\"t\"}}', '', 0 "
                + "FROM n";
            command.ExecuteNonQuery();
        }
        views.Append(new("ann", "d"), 1, new ViewEdit.HideTile("x")).ShouldBeFalse();
        views.Get(new("ann", "d")).Edits.Count.ShouldBe(Views.MaximumEdits);
        views.Append(new("ann", "d"), 1, new ViewEdit.Reset()).ShouldBeTrue();
        views.Append(new("ann", "d"), 1, new ViewEdit.HideTile("x")).ShouldBeTrue();
    }

    [Fact]
    public void Of_views_that_were_taken_away_the_last_ten_come_back_as_far_as_there_is_room_and_no_name_is_used_again()
    {
        var views = new Views(_database, TimeProvider.System);
        string Make() => views.Make("ann", "d", "v", 1, [new ViewEdit.HideTile("x")])!;
        var names = Enumerable.Range(0, 12).Select(_ => Make()).ToList();
        foreach (var name in names)
            views.Remove(new("ann", "d", name)).ShouldBeTrue();
        names.ShouldNotContain(Make());
        foreach (var (name, i) in names.Select((n, i) => (n, i)))
        {
            views.Remove(new("ann", "d", name), isBack: true).ShouldBe(i >= 2, name);
            views.Get(new("ann", "d", name)).Edits.Count.ShouldBe(i >= 2 ? 1 : 0);
        }
        views.Remove(new("ann", "d", names[^1]));
        while (views.Named("ann", "d").Count < Views.MaximumNamed)
            Make();
        views.Remove(new("ann", "d", names[^1]), isBack: true).ShouldBeFalse("there is no room");
    }

    [Fact]
    public void What_was_shared_ends_with_whoever_shared_it_and_with_whom_it_was_shared()
    {
        var (views, users) = (new Views(_database, TimeProvider.System), new Users(_database));
        void Put(string name) =>
            users.Put(new Core.Access.Viewer(name, name, [], new Dictionary<string, IReadOnlyList<string>>()), "a password", false);
        foreach (var name in (string[])["ann", "bob", "cat"])
            Put(name);
        var view = views.Make("ann", "d", "Mine", 1, [new ViewEdit.HideTile("x")])!;
        var shared = views.Share(new("ann", "d", view), "person", "bob", null)!;
        views.Share(new("bob", "d"), "person", "cat", null);
        views.Shared(shared.Id, "d")!.IsFor("bob", []).ShouldBeTrue();
        views.Shared(shared.Id, "d")!.IsFor("cat", ["bob"]).ShouldBeFalse();
        views.Shared(shared.Id, "other").ShouldBeNull();
        views.SharedWith("bob", [], "d").Select(s => s.Title).ShouldBe(["Mine"]);
        users.Remove("bob").ShouldBeTrue();
        Put("bob");
        views.SharedWith("bob", [], "d").ShouldBeEmpty();
        views.SharedWith("cat", [], "d").ShouldBeEmpty();
        views.Shared(shared.Id, "d").ShouldBeNull();
    }

    [Fact]
    public void Runs_that_ended_long_ago_are_forgotten_with_their_files_and_what_is_told_of_remarks_is_in_no_list()
    {
        var runs = new Runs(_database, TimeProvider.System);
        string Sent(string report)
        {
            var run = runs.Plan(report, "ann")!;
            var file = new RunFile($"file of {report}", "a.csv", "text/csv", [1, 2], "{}", null);
            runs.Add(
                [
                    new Delivery(
                        run,
                        "person:bob",
                        "Bob",
                        "mail",
                        "b@isles.example",
                        "ready",
                        0,
                        DateTimeOffset.UnixEpoch,
                        null,
                        null,
                        file.Id,
                        null
                    ),
                ],
                file
            );
            return run;
        }
        var (old, open) = (Sent("old"), Sent("open"));
        runs.End(old, "sent", null, []);
        runs.Tell("remark", [("person:bob", "Bob", "b@isles.example", "Ann wrote")]);
        runs.Newest(null, 10).Select(r => r.Report).Order().ShouldBe(["old", "open"]);
        runs.To("person:bob", 10).Count.ShouldBe(2);
        runs.ToSend("mail").Count(d => d.Words is not null).ShouldBe(1);

        runs.Forget(DateTimeOffset.UtcNow.AddMinutes(-5));
        runs.Find(old).ShouldNotBeNull("it has not ended long ago");
        runs.Forget(DateTimeOffset.UtcNow.AddMinutes(5));
        runs.Find(old).ShouldBeNull();
        runs.FileOf("file of old").ShouldBeNull();
        runs.DeliveriesOf(old).ShouldBeEmpty();
        // What is on its way stays, however old.
        runs.Find(open).ShouldNotBeNull();
        runs.FileOf("file of open").ShouldNotBeNull();
        runs.DeliveriesOf(open).Count.ShouldBe(1);

        // Whoever is removed is told nothing any more, and wants nothing.
        var (users, remarks) = (new Users(_database), new Remarks(_database, TimeProvider.System));
        users.Put(Viewer("bob"), "correct horse");
        remarks.SetMail("d", "bob", true);
        remarks.SetMail("d", "bob", true);
        remarks.MailsTo("d").ShouldBe(["bob"]);
        users.Remove("bob");
        remarks.MailsTo("d").ShouldBeEmpty();
        runs.ToSend("mail").ShouldBeEmpty();
    }

    [Fact]
    public async Task Two_windows_append_to_one_log_and_neither_loses()
    {
        var views = new Views(_database, TimeProvider.System);
        await Task.WhenAll(
            Enumerable
                .Range(0, 2)
                .Select(window =>
                    Task.Run(() =>
                    {
                        for (var i = 0; i < 50; i++)
                            views.Append(new("ann", "d"), 1, new ViewEdit.HideTile($"{window}-{i}")).ShouldBeTrue();
                    })
                )
        );
        var tiles = views.Get(new("ann", "d")).Edits.Cast<ViewEdit.HideTile>().Select(e => e.Tile).ToList();
        tiles.Count.ShouldBe(100);
        tiles.Where(t => t.StartsWith("0-")).ShouldBe(Enumerable.Range(0, 50).Select(i => $"0-{i}"));
    }
}
