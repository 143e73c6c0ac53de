using System.CommandLine;
using Nippers.App.Languages;

namespace Nippers.Web.Commands;

/// <summary>
/// The words of the command line, in the language of whoever runs it as the system's settings name it. A server's own language is that
/// of its pages' readers and nobody else's.
/// </summary>
public static class CommandWords
{
    /// <summary>The language that the settings name; English for none of those that there are.</summary>
    public static Language Language { get; } =
        new[] { "LC_ALL", "LC_MESSAGES", "LANG" }
            .Select(Environment.GetEnvironmentVariable)
            .Where(x => !string.IsNullOrEmpty(x))
            .Select(x => AllLanguages.Find(x!.Split('_', '.', '@')[0]))
            .FirstOrDefault()
        ?? Language.English;

    /// <summary>A line for a console: what fills its places stands as it is.</summary>
    public static string Say(string words) => Language.Say(words);

    /// <summary>Has a command, and all below it, described in the language.</summary>
    public static T In<T>(T command)
        where T : Command
    {
        command.Description = Language.Say(command.Description);
        foreach (var option in command.Options)
            option.Description = Language.Say(option.Description);
        foreach (var argument in command.Arguments)
            argument.Description = Language.Say(argument.Description);
        foreach (var below in command.Subcommands)
            In(below);
        return command;
    }
}
