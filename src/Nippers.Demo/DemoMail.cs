using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.Mail;
using Nippers.Data;
using Nippers.Data.Mail;

namespace Nippers.Demo;

/// <summary>Who is told in the demo, and through which server: the stand-in beside it, where there is one.</summary>
internal static class DemoMail
{
    private static readonly Actor By = new("Mara Quill", Roles.Planner);

    /// <summary>Says it through the doors that people have.</summary>
    /// <param name="services">The demo's, with its accounts and its fleet.</param>
    /// <param name="port">Where the stand-in takes messages; null while there is none, and none are written.</param>
    /// <param name="ct">Gives up.</param>
    public static async Task Make(IServiceProvider services, int? port, CancellationToken ct)
    {
        var book = services.GetRequiredService<MailBook>();
        var db = services.GetRequiredService<NippersDb>();
        var users = await db.Users.AsNoTracking().ToDictionaryAsync(x => x.FullName, x => x.Id, StringComparer.Ordinal, ct);
        if (!users.ContainsKey("Tam Ollery"))
            return;
        await Choose("Mara Quill", "mara", true);
        await Choose("Tam Ollery", "tam", false);
        await Choose("Wenna Pask", "wenna", false);
        foreach (var site in await db.Sites.AsNoTracking().OrderBy(x => x.Name).ToListAsync(ct))
        {
            Demonstrated.Sure(
                await book.AddContact(site.Id, new(site.Name == DemoCast.LandingYard ? "wenna" : "tam", null, null, null), By, ct)
            );
            Demonstrated.Sure(await book.AddContact(site.Id, new("mara", null, null, null), By, ct));
        }

        if (port is null)
            return;
        Demonstrated.Sure(
            await book.SaveServer(
                new(
                    0,
                    "127.0.0.1",
                    port.Value.ToString(System.Globalization.CultureInfo.InvariantCulture),
                    MailSecurity.Open,
                    null,
                    null,
                    "nippers@fleet.example.invalid",
                    true,
                    true
                ),
                By,
                ct
            )
        );

        // The story begins on a morning: its message is there to be looked at.
        await db.MailPeople.ExecuteUpdateAsync(x => x.SetProperty(p => p.MorningOn, (DateOnly?)null), ct);

        async Task Choose(string name, string mailbox, bool all) =>
            Demonstrated.Sure(
                await book.Choose(
                    users[name],
                    new(
                        0,
                        mailbox + "@fleet.example.invalid",
                        all,
                        "06:00",
                        all ? MailWhen.AtOnce : MailWhen.Morning,
                        MailWhen.AtOnce,
                        MailWhen.Morning,
                        MailWhen.Morning,
                        MailWhen.Morning
                    ),
                    new(name, Roles.Technician),
                    ct
                )
            );
    }
}
